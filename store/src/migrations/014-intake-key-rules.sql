ALTER TABLE intake_keys
  ADD COLUMN IF NOT EXISTS rules JSON NOT NULL DEFAULT '{}' COMMENT 'what the key accepts, keeps apart, samples and how fast',
  ADD COLUMN IF NOT EXISTS last_used_at DATETIME(3) NULL
