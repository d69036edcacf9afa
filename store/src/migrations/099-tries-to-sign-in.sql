ALTER TABLE sign_in_attempts CHANGE COLUMN IF EXISTS failures tries INT UNSIGNED NOT NULL COMMENT 'counted before they are made; those that succeed are taken back'
