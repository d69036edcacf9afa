CREATE TABLE IF NOT EXISTS symbol_parts (
  file_id INT UNSIGNED NOT NULL,
  part SMALLINT UNSIGNED NOT NULL COMMENT 'of a universal binary one for each slice, else 0',
  app_id INT UNSIGNED NOT NULL,
  kind ENUM('mapping', 'code', 'sourcemap') NOT NULL,
  symbol_id VARCHAR(200) COLLATE utf8mb4_bin NULL,
  symbol_key VARCHAR(200) COLLATE utf8mb4_bin NULL COMMENT 'what all spellings of the id share',
  name VARCHAR(255) COLLATE utf8mb4_bin NULL COMMENT 'of the image or script',
  summary JSON NOT NULL,
  PRIMARY KEY (file_id, part),
  INDEX by_key (app_id, kind, symbol_key),
  FOREIGN KEY (file_id) REFERENCES symbol_files (id) ON DELETE CASCADE
)
