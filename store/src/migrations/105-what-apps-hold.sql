CREATE TABLE IF NOT EXISTS holdings (
  app_id INT UNSIGNED NOT NULL,
  thing VARCHAR(20) CHARACTER SET ascii COLLATE ascii_bin NOT NULL COMMENT 'reports, attachments or the intake log',
  items INT UNSIGNED NOT NULL,
  bytes BIGINT UNSIGNED NOT NULL,
  oldest_at DATETIME(3) NULL,
  measured_at DATETIME(3) NOT NULL,
  PRIMARY KEY (app_id, thing),
  FOREIGN KEY (app_id) REFERENCES apps (id) ON DELETE CASCADE
)
