ALTER TABLE sessions
  CHANGE COLUMN IF EXISTS begun started BOOLEAN NOT NULL COMMENT 'an item of the session itself has come, not only a report that names it',
  CHANGE COLUMN IF EXISTS apart excluded BOOLEAN NOT NULL DEFAULT FALSE COMMENT 'kept out of the figures, such as debug builds'
