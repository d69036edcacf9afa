ALTER TABLE apps ADD COLUMN IF NOT EXISTS zone VARCHAR(60) NULL COMMENT 'IANA name of the zone of what everybody sees alike, such as walls; null: UTC'
