CREATE TABLE IF NOT EXISTS change_log (
  app_id INT UNSIGNED NOT NULL,
  subject ENUM('report', 'person-day') NOT NULL,
  position BIGINT UNSIGNED NOT NULL COMMENT 'in the order of their commits: what is committed later has a higher one',
  logged_at TIMESTAMP NOT NULL DEFAULT CURRENT_TIMESTAMP,
  subject_keys MEDIUMBLOB NOT NULL COMMENT 'one after the other',
  PRIMARY KEY (app_id, subject, position),
  INDEX by_position (position)
)
