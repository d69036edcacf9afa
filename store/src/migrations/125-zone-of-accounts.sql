ALTER TABLE accounts ADD COLUMN IF NOT EXISTS zone VARCHAR(60) NULL COMMENT 'IANA name of the zone that times are shown in; null: that of the browser'
