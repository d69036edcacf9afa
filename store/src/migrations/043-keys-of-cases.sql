CREATE TABLE IF NOT EXISTS case_keys (
  app_id INT UNSIGNED NOT NULL,
  key_hash BINARY(32) NOT NULL COMMENT 'of a grouping key, or of a variant that was taken out of its case',
  case_id BIGINT UNSIGNED NOT NULL,
  PRIMARY KEY (app_id, key_hash),
  INDEX by_case (case_id),
  FOREIGN KEY (case_id) REFERENCES cases (id) ON DELETE CASCADE
)
