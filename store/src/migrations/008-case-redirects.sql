CREATE TABLE IF NOT EXISTS case_redirects (
  app_id INT UNSIGNED NOT NULL,
  number INT UNSIGNED NOT NULL,
  case_id BIGINT UNSIGNED NOT NULL COMMENT 'where the reports of that number went',
  PRIMARY KEY (app_id, number),
  FOREIGN KEY (case_id) REFERENCES cases (id) ON DELETE CASCADE
)
