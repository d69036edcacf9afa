ALTER TABLE tokens ADD COLUMN IF NOT EXISTS made_by VARCHAR(254) NULL COMMENT 'null: made by the server itself, or before this was told'
