CREATE TABLE IF NOT EXISTS wall_links (
  id INT UNSIGNED PRIMARY KEY AUTO_INCREMENT,
  name VARCHAR(100) NOT NULL,
  secret_hash BINARY(32) NOT NULL UNIQUE,
  app_ids JSON NULL COMMENT 'the apps that take turns; null for all there are',
  made_by VARCHAR(254) NOT NULL,
  created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  revoked_at DATETIME(3) NULL,
  last_used_at DATETIME(3) NULL
)
