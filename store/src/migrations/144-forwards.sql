CREATE TABLE IF NOT EXISTS forwards (
  app_id INT UNSIGNED NOT NULL PRIMARY KEY,
  address VARCHAR(2000) NOT NULL COMMENT 'of an OTLP/HTTP receiver, with /v1/logs',
  header_name VARCHAR(100) NULL COMMENT 'that the receiver knows this server by',
  header_value VARBINARY(8000) NULL COMMENT 'encrypted',
  may_reach_private BOOLEAN NOT NULL,
  changed_by VARCHAR(320) NOT NULL,
  leased_until DATETIME(3) NULL,
  attempts INT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'since the last that was taken',
  next_try_at DATETIME(3) NOT NULL,
  sent_at DATETIME(3) NULL,
  sent BIGINT UNSIGNED NOT NULL DEFAULT 0,
  refused BIGINT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'by the receiver, for good',
  problem VARCHAR(1000) NULL,
  FOREIGN KEY (app_id) REFERENCES apps (id) ON DELETE CASCADE
)
