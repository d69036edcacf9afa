ALTER TABLE intake_log
  ADD COLUMN IF NOT EXISTS key_id INT UNSIGNED NULL AFTER key_name,
  ADD COLUMN IF NOT EXISTS apart INT UNSIGNED NOT NULL DEFAULT 0 AFTER duplicates,
  ADD COLUMN IF NOT EXISTS sampled_out INT UNSIGNED NOT NULL DEFAULT 0 AFTER apart,
  ADD COLUMN IF NOT EXISTS remedy VARCHAR(500) NULL,
  ADD COLUMN IF NOT EXISTS report_id BINARY(16) NULL COMMENT 'the first report of the request that was accepted',
  ADD COLUMN IF NOT EXISTS details JSON NULL COMMENT 'the first lines that were not simply accepted',
  ADD INDEX IF NOT EXISTS by_time (app_id, at)
