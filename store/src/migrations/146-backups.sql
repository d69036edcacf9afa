CREATE TABLE IF NOT EXISTS backups (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  folder VARCHAR(1000) NOT NULL,
  name VARCHAR(100) NOT NULL,
  started_at DATETIME(3) NOT NULL,
  leased_until DATETIME(3) NOT NULL COMMENT 'whoever makes it is believed dead after that',
  finished_at DATETIME(3) NULL,
  bytes BIGINT UNSIGNED NULL COMMENT 'of the database, packed, and of files that were new',
  problem VARCHAR(1000) NULL,
  UNIQUE INDEX by_name (folder(500), name),
  INDEX by_end (finished_at)
)
