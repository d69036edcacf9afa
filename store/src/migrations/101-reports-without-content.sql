-- 'emptied': what it held has gone by the retention of its app, and it is still counted.
ALTER TABLE reports
  MODIFY state ENUM('waiting', 'processed', 'failed', 'emptied') NOT NULL DEFAULT 'waiting',
  ADD COLUMN IF NOT EXISTS body_bytes INT UNSIGNED NULL COMMENT 'of the body; null for reports of before this was told',
  ADD COLUMN IF NOT EXISTS made_bytes INT UNSIGNED NULL COMMENT 'of what processing made of it'
