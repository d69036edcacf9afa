CREATE TABLE IF NOT EXISTS told (
  id BIGINT UNSIGNED PRIMARY KEY AUTO_INCREMENT,
  account_id INT UNSIGNED NOT NULL,
  event_id BIGINT UNSIGNED NOT NULL COMMENT 'what happened to a case',
  reason VARCHAR(20) NOT NULL COMMENT 'mentioned, assigned or takes-part',
  read_at DATETIME(3) NULL,
  UNIQUE KEY once (account_id, event_id),
  KEY unread (account_id, read_at, id),
  FOREIGN KEY (account_id) REFERENCES accounts (id) ON DELETE CASCADE,
  FOREIGN KEY (event_id) REFERENCES case_events (id) ON DELETE CASCADE
)
