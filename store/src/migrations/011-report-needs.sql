CREATE TABLE IF NOT EXISTS report_needs (
  report_row BIGINT UNSIGNED NOT NULL,
  app_id INT UNSIGNED NOT NULL,
  kind ENUM('mapping') NOT NULL,
  version VARCHAR(100) NOT NULL,
  build VARCHAR(100) NOT NULL,
  map_id VARCHAR(200) COLLATE utf8mb4_bin NOT NULL DEFAULT '' COMMENT 'empty: version and build tie the file',
  found BOOLEAN NOT NULL,
  PRIMARY KEY (report_row, kind, map_id),
  INDEX by_build (app_id, found, version, build, map_id),
  FOREIGN KEY (report_row) REFERENCES reports (id) ON DELETE CASCADE
)
