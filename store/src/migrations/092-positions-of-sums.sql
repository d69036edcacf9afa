-- Sums that were kept by time are made anew from the sessions that are there.
ALTER TABLE session_sums
  ADD COLUMN IF NOT EXISTS position BIGINT UNSIGNED NULL COMMENT 'of the last change that is in the days; null: all are to be looked at anew' AFTER app_id,
  ADD COLUMN IF NOT EXISTS layout SMALLINT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'what the days hold; another layout is made anew' AFTER position,
  DROP COLUMN IF EXISTS mark
