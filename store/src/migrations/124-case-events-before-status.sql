ALTER TABLE case_events CHANGE COLUMN IF EXISTS before_standing before_status JSON NULL COMMENT 'what undoing brings back; null for a note'
