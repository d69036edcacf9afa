CREATE TABLE IF NOT EXISTS report_bodies (
  report_row BIGINT UNSIGNED PRIMARY KEY,
  body MEDIUMTEXT COMPRESSED NOT NULL COMMENT 'the canonical report as it was accepted, JSON',
  readable MEDIUMTEXT COMPRESSED NULL COMMENT 'the symbolicated stacks, JSON',
  explanation TEXT COMPRESSED NULL COMMENT 'why the report is in its case, JSON',
  FOREIGN KEY (report_row) REFERENCES reports (id) ON DELETE CASCADE
)
