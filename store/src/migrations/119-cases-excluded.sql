ALTER TABLE cases CHANGE COLUMN IF EXISTS apart excluded BOOLEAN NOT NULL DEFAULT FALSE COMMENT 'its reports are excluded; no case has both kinds'
