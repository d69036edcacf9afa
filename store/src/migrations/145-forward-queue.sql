CREATE TABLE IF NOT EXISTS forward_queue (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  app_id INT UNSIGNED NOT NULL,
  report_row BIGINT UNSIGNED NULL COMMENT 'a report, read when it is sent',
  session_id BINARY(16) NULL,
  session_item MEDIUMTEXT COMPRESSED NULL COMMENT 'JSON: an item of a session',
  queued_at DATETIME(3) NOT NULL,
  INDEX by_app (app_id, id),
  INDEX by_session (app_id, session_id),
  INDEX by_age (queued_at),
  FOREIGN KEY (app_id) REFERENCES apps (id) ON DELETE CASCADE
)
