ALTER TABLE intake_log
  ADD COLUMN IF NOT EXISTS remarked INT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'taken, but not as they came',
  ADD COLUMN IF NOT EXISTS passed_over INT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'log records that are nothing of an app'
