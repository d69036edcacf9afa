ALTER TABLE reports
  ADD COLUMN IF NOT EXISTS tried_by VARCHAR(40) CHARACTER SET ascii NULL COMMENT 'version of the program that could not process it',
  ADD INDEX IF NOT EXISTS by_failure (app_id, state, id)
