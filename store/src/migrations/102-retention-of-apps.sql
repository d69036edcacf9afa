ALTER TABLE apps
  ADD COLUMN IF NOT EXISTS retention JSON NULL COMMENT 'how long and how much is kept; null: what the program says',
  ADD COLUMN IF NOT EXISTS deleted_at DATETIME(3) NULL COMMENT 'nobody sees it any more; a job takes what it holds away'
