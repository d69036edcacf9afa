CREATE TABLE IF NOT EXISTS session_sums (
  app_id INT UNSIGNED PRIMARY KEY,
  mark DECIMAL(20, 6) NOT NULL COMMENT 'what changed before is in the days, in seconds since 1970',
  attributes JSON NOT NULL COMMENT 'those that the days are told apart by',
  generation INT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'how often everything was to be summed anew',
  raw_from DATE NULL COMMENT 'sessions of earlier days are gone, their sums stay',
  FOREIGN KEY (app_id) REFERENCES apps (id) ON DELETE CASCADE
)
