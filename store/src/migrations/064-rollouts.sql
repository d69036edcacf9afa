CREATE TABLE IF NOT EXISTS rollouts (
  id INT UNSIGNED PRIMARY KEY AUTO_INCREMENT,
  app_id INT UNSIGNED NOT NULL,
  version VARCHAR(100) NOT NULL,
  version_key VARCHAR(600) COLLATE utf8mb4_bin NOT NULL,
  action ENUM('step', 'halt', 'resume') NOT NULL,
  percent DECIMAL(7, 4) NULL COMMENT 'of people, from then on',
  at DATETIME(3) NOT NULL,
  by_whom VARCHAR(254) NOT NULL,
  commit_id VARCHAR(200) NOT NULL,
  note TEXT NOT NULL,
  INDEX by_time (app_id, at),
  FOREIGN KEY (app_id) REFERENCES apps (id) ON DELETE CASCADE
)
