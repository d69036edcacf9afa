ALTER TABLE apps ADD COLUMN IF NOT EXISTS scrub_rules JSON NOT NULL DEFAULT '{}' COMMENT 'what is taken out of texts before they are stored'
