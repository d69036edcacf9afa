CREATE TABLE IF NOT EXISTS apps (
  id INT UNSIGNED PRIMARY KEY AUTO_INCREMENT,
  slug VARCHAR(60) CHARACTER SET ascii COLLATE ascii_bin NOT NULL UNIQUE,
  name VARCHAR(100) NOT NULL,
  prefix VARCHAR(10) CHARACTER SET ascii COLLATE ascii_bin NOT NULL UNIQUE,
  platforms JSON NOT NULL,
  our_packages JSON NOT NULL COMMENT 'packages whose frames are ours; empty: all that are not known to be outside',
  last_case_number INT UNSIGNED NOT NULL DEFAULT 0,
  revision BIGINT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'raised by whatever changes what screens show',
  created_at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3)
)
