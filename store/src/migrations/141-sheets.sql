CREATE TABLE IF NOT EXISTS sheets (
  id INT UNSIGNED PRIMARY KEY AUTO_INCREMENT,
  app_id INT UNSIGNED NOT NULL,
  title VARCHAR(200) NOT NULL,
  for_team BOOLEAN NOT NULL,
  scope VARCHAR(6000) NOT NULL COMMENT 'of the charts that have none of their own, as address parameters',
  charts MEDIUMTEXT NOT NULL COMMENT 'JSON, in their order',
  revision INT UNSIGNED NOT NULL DEFAULT 1,
  link_hash BINARY(32) NULL COMMENT 'of the secret in the link that shows it without a sign-in',
  made_by VARCHAR(254) NOT NULL,
  changed_at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
  INDEX by_app (app_id, title),
  UNIQUE INDEX by_link (link_hash),
  FOREIGN KEY (app_id) REFERENCES apps (id) ON DELETE CASCADE
)
