ALTER TABLE reports CHANGE COLUMN IF EXISTS apart excluded BOOLEAN NOT NULL DEFAULT FALSE COMMENT 'kept out of what people see by default, such as debug builds'
