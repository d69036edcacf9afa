CREATE TABLE IF NOT EXISTS alert_rules (
  id INT UNSIGNED PRIMARY KEY AUTO_INCREMENT,
  app_id INT UNSIGNED NOT NULL,
  kind VARCHAR(20) NOT NULL,
  rule JSON NOT NULL,
  made_by VARCHAR(254) NOT NULL COMMENT 'empty for those that an app begins with',
  made_at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
  changed_at DATETIME(6) NOT NULL DEFAULT UTC_TIMESTAMP(6),
  last_alert_at DATETIME(3) NULL,
  next_look_at DATETIME(3) NULL COMMENT 'null for what is known as it happens',
  standing JSON NULL COMMENT 'what a look found and told, so that it is told once',
  problem VARCHAR(500) NULL COMMENT 'why the last look could say nothing',
  INDEX by_app (app_id, kind),
  INDEX by_look (next_look_at),
  FOREIGN KEY (app_id) REFERENCES apps (id) ON DELETE CASCADE
)
