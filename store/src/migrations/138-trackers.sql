CREATE TABLE IF NOT EXISTS trackers (
  app_id INT UNSIGNED PRIMARY KEY,
  settings JSON NOT NULL,
  secret VARBINARY(4000) NULL COMMENT 'encrypted: what the tracker knows this server by',
  told_secret VARBINARY(400) NOT NULL COMMENT 'encrypted: what the tracker signs with',
  may_reach_private BOOLEAN NOT NULL,
  ticket_follows_case BOOLEAN NOT NULL,
  changed_by VARCHAR(254) NOT NULL,
  FOREIGN KEY (app_id) REFERENCES apps (id) ON DELETE CASCADE
)
