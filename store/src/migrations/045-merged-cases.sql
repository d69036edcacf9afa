ALTER TABLE cases
  DROP INDEX IF EXISTS app_id_2,
  DROP COLUMN IF EXISTS grouping_key,
  ADD COLUMN IF NOT EXISTS merged_into BIGINT UNSIGNED NULL COMMENT 'where its reports went; it comes back with a report of its own',
  ADD INDEX IF NOT EXISTS by_merge (merged_into)
