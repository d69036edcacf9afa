CREATE TABLE IF NOT EXISTS cases (
  id BIGINT UNSIGNED PRIMARY KEY AUTO_INCREMENT,
  app_id INT UNSIGNED NOT NULL,
  number INT UNSIGNED NOT NULL,
  grouping_key BINARY(32) NOT NULL,
  kind ENUM('crash', 'hang', 'kill', 'error') NOT NULL,
  state ENUM('open', 'closed', 'muted', 'reopened') NOT NULL DEFAULT 'open',
  what VARCHAR(500) NOT NULL,
  where_text VARCHAR(1200) NOT NULL,
  message VARCHAR(2000) NULL,
  culprit JSON NULL,
  provisional BOOLEAN NOT NULL,
  created_at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
  UNIQUE (app_id, number),
  UNIQUE (app_id, grouping_key),
  FOREIGN KEY (app_id) REFERENCES apps (id) ON DELETE CASCADE
)
