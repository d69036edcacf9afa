CREATE TABLE IF NOT EXISTS session_days (
  app_id INT UNSIGNED NOT NULL,
  day DATE NOT NULL,
  row_count INT UNSIGNED NOT NULL,
  content LONGBLOB NOT NULL COMMENT 'docs/session-days.md, deflated',
  PRIMARY KEY (app_id, day),
  FOREIGN KEY (app_id) REFERENCES apps (id) ON DELETE CASCADE
)
