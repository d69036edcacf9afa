CREATE TABLE IF NOT EXISTS report_terms (
  report_row BIGINT UNSIGNED PRIMARY KEY,
  terms BLOB NOT NULL COMMENT 'ids of terms, ascending, distances in LEB128',
  FOREIGN KEY (report_row) REFERENCES reports (id) ON DELETE CASCADE
)
