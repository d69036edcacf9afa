ALTER TABLE report_needs
  ADD COLUMN IF NOT EXISTS frames_covered SMALLINT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'distinct frames that the file restored',
  ADD COLUMN IF NOT EXISTS frames_uncovered SMALLINT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'distinct frames that asked for the file and do not occur in it'
