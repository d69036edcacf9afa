CREATE TABLE IF NOT EXISTS previewed_groups (
  change_id INT UNSIGNED NOT NULL,
  case_id BIGINT UNSIGNED NOT NULL,
  key_hash BINARY(32) NOT NULL,
  title VARCHAR(600) NOT NULL,
  reports INT UNSIGNED NOT NULL,
  PRIMARY KEY (change_id, case_id, key_hash),
  FOREIGN KEY (change_id) REFERENCES grouping_changes (id) ON DELETE CASCADE
)
