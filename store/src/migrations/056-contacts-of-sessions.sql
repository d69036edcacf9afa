ALTER TABLE sessions
  ADD COLUMN IF NOT EXISTS contact_key BINARY(16) NULL COMMENT 'hash of how the person can be reached' AFTER person_key,
  ADD INDEX IF NOT EXISTS by_contact (app_id, contact_key)
