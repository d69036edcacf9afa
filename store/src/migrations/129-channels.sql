CREATE TABLE IF NOT EXISTS channels (
  id INT UNSIGNED PRIMARY KEY AUTO_INCREMENT,
  app_id INT UNSIGNED NOT NULL,
  name VARCHAR(100) NOT NULL,
  kind VARCHAR(20) NOT NULL,
  settings JSON NOT NULL COMMENT 'where it leads, without secrets',
  secret VARBINARY(4000) NULL COMMENT 'what nobody may read, encrypted by the key of the server',
  may_reach_private BOOLEAN NOT NULL DEFAULT FALSE COMMENT 'an owner lets it lead into the network of the server',
  made_by VARCHAR(254) NOT NULL,
  made_at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
  last_sent_at DATETIME(3) NULL,
  failing_since DATETIME(3) NULL,
  problem VARCHAR(500) NULL COMMENT 'why the last message could not be delivered',
  INDEX by_app (app_id, name),
  FOREIGN KEY (app_id) REFERENCES apps (id) ON DELETE CASCADE
)
