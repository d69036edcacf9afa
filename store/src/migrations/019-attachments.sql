CREATE TABLE IF NOT EXISTS attachments (
  id BIGINT UNSIGNED PRIMARY KEY AUTO_INCREMENT,
  app_id INT UNSIGNED NOT NULL,
  attachment_id BINARY(16) NOT NULL,
  report_id BINARY(16) NOT NULL COMMENT 'of the device; the report may come later',
  kind ENUM('screenshot', 'view-hierarchy', 'log', 'original') NOT NULL,
  name VARCHAR(200) NOT NULL,
  media_type VARCHAR(100) CHARACTER SET ascii NOT NULL,
  size_bytes INT UNSIGNED NOT NULL,
  content MEDIUMBLOB NOT NULL,
  received_at DATETIME(3) NOT NULL,
  UNIQUE (app_id, attachment_id),
  INDEX by_report (app_id, report_id),
  FOREIGN KEY (app_id) REFERENCES apps (id) ON DELETE CASCADE
)
