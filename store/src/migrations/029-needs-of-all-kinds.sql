ALTER TABLE report_needs
  MODIFY kind ENUM('mapping', 'code', 'sourcemap') NOT NULL,
  CHANGE COLUMN IF EXISTS map_id symbol_id VARCHAR(200) COLLATE utf8mb4_bin NOT NULL DEFAULT '' COMMENT 'empty: version and build tie the file',
  ADD COLUMN IF NOT EXISTS symbol_key VARCHAR(200) COLLATE utf8mb4_bin NOT NULL DEFAULT '' AFTER symbol_id,
  ADD COLUMN IF NOT EXISTS name VARCHAR(255) COLLATE utf8mb4_bin NOT NULL DEFAULT '' AFTER symbol_key,
  DROP PRIMARY KEY,
  ADD PRIMARY KEY (report_row, kind, symbol_id, name),
  ADD INDEX IF NOT EXISTS by_key (app_id, found, kind, symbol_key)
