ALTER TABLE session_trails MODIFY COLUMN event MEDIUMTEXT COMPRESSED NOT NULL COMMENT 'JSON: an event that was told alone, or a list of those told together'
