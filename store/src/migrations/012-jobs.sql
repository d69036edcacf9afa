CREATE TABLE IF NOT EXISTS jobs (
  id BIGINT UNSIGNED PRIMARY KEY AUTO_INCREMENT,
  kind ENUM('process-report', 'index-symbol-file') NOT NULL,
  app_id INT UNSIGNED NOT NULL,
  subject_id BIGINT UNSIGNED NOT NULL COMMENT 'row of the report or symbol file',
  priority TINYINT UNSIGNED NOT NULL COMMENT 'lower goes first',
  attempts TINYINT UNSIGNED NOT NULL DEFAULT 0,
  run_after DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3) COMMENT 'also the end of the lease of whoever took it',
  INDEX next_first (priority, id),
  INDEX by_subject (kind, subject_id),
  FOREIGN KEY (app_id) REFERENCES apps (id) ON DELETE CASCADE
)
