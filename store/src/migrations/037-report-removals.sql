CREATE TABLE IF NOT EXISTS report_removals (
  report_row BIGINT UNSIGNED PRIMARY KEY,
  app_id INT UNSIGNED NOT NULL,
  removed_at TIMESTAMP(6) NOT NULL DEFAULT CURRENT_TIMESTAMP(6),
  INDEX by_time (app_id, removed_at)
)
