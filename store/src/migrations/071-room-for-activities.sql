ALTER TABLE sessions MODIFY body MEDIUMTEXT COMPRESSED NULL COMMENT 'flags, attributes, screens and requests, JSON'
