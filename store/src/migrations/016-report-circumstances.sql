ALTER TABLE reports
  ADD COLUMN IF NOT EXISTS build_type VARCHAR(50) NOT NULL DEFAULT 'release' AFTER build,
  ADD COLUMN IF NOT EXISTS apart BOOLEAN NOT NULL DEFAULT FALSE COMMENT 'kept apart from what people see by default, such as debug builds',
  ADD COLUMN IF NOT EXISTS session_id BINARY(16) NULL,
  ADD COLUMN IF NOT EXISTS country CHAR(2) CHARACTER SET ascii NULL,
  ADD INDEX IF NOT EXISTS by_session (app_id, session_id)
