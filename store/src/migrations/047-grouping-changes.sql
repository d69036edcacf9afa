CREATE TABLE IF NOT EXISTS grouping_changes (
  id INT UNSIGNED PRIMARY KEY AUTO_INCREMENT,
  app_id INT UNSIGNED NOT NULL,
  rules TEXT NOT NULL,
  state ENUM('previewing', 'previewed', 'applying', 'applied', 'dropped') NOT NULL,
  asked_by VARCHAR(254) NOT NULL,
  asked_at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
  next_row BIGINT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'reports from here down are still to be looked at; 0: none was',
  looked INT UNSIGNED NOT NULL DEFAULT 0,
  total INT UNSIGNED NOT NULL DEFAULT 0,
  moved INT UNSIGNED NOT NULL DEFAULT 0,
  FOREIGN KEY (app_id) REFERENCES apps (id) ON DELETE CASCADE
)
