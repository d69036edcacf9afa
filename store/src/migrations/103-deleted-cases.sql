ALTER TABLE cases ADD COLUMN IF NOT EXISTS deleted_at DATETIME(3) NULL COMMENT 'nobody sees it any more; a job takes its reports away'
