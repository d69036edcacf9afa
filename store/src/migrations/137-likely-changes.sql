CREATE TABLE IF NOT EXISTS likely_changes (
  case_id BIGINT UNSIGNED PRIMARY KEY,
  basis BINARY(32) NOT NULL COMMENT 'hash of what it was worked out from; another one, and it is worked out again',
  found MEDIUMTEXT NOT NULL COMMENT 'JSON',
  made_at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
  FOREIGN KEY (case_id) REFERENCES cases (id) ON DELETE CASCADE
)
