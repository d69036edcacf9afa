ALTER TABLE sessions
  ADD COLUMN IF NOT EXISTS memory_class VARCHAR(50) NULL AFTER contact_key,
  ADD COLUMN IF NOT EXISTS carrier VARCHAR(100) NULL AFTER memory_class,
  ADD COLUMN IF NOT EXISTS crashed_at DATETIME(3) NULL COMMENT 'the earliest that was told' AFTER errors,
  ADD COLUMN IF NOT EXISTS changed_at TIMESTAMP(6) NOT NULL DEFAULT CURRENT_TIMESTAMP(6) ON UPDATE CURRENT_TIMESTAMP(6),
  ADD COLUMN IF NOT EXISTS day DATE AS (CAST(IF(started_at > received_at OR started_at < received_at - INTERVAL 180 DAY, received_at, started_at) AS DATE)) STORED
    COMMENT 'the day it counts for; a clock that cannot be right gives way to the arrival',
  DROP INDEX IF EXISTS by_start,
  ADD INDEX IF NOT EXISTS by_day (app_id, day),
  ADD INDEX IF NOT EXISTS by_change (app_id, changed_at)
