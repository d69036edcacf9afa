CREATE TABLE IF NOT EXISTS session_trails (
  app_id INT UNSIGNED NOT NULL,
  session_id BINARY(16) NOT NULL,
  event_hash BINARY(16) NOT NULL COMMENT 'the same event sent twice is one',
  at DATETIME(3) NOT NULL,
  received_at DATETIME(3) NOT NULL,
  event TEXT COMPRESSED NOT NULL COMMENT 'JSON',
  PRIMARY KEY (app_id, session_id, event_hash),
  INDEX by_age (received_at),
  FOREIGN KEY (app_id) REFERENCES apps (id) ON DELETE CASCADE
)
