CREATE TABLE IF NOT EXISTS terms (
  id INT UNSIGNED PRIMARY KEY AUTO_INCREMENT,
  app_id INT UNSIGNED NOT NULL,
  hash BINARY(16) NOT NULL COMMENT 'of field, key and value',
  field VARCHAR(30) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  term_key VARCHAR(200) COLLATE utf8mb4_bin NOT NULL COMMENT 'name of the flag or attribute, else empty',
  value TEXT COLLATE utf8mb4_bin NOT NULL,
  UNIQUE (app_id, hash),
  FOREIGN KEY (app_id) REFERENCES apps (id) ON DELETE CASCADE
)
