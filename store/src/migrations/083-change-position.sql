CREATE TABLE IF NOT EXISTS change_position (
  id TINYINT UNSIGNED PRIMARY KEY,
  next_position BIGINT UNSIGNED NOT NULL,
  kept_after BIGINT UNSIGNED NOT NULL COMMENT 'changes up to here are told no more'
)
