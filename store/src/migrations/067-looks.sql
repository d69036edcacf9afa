CREATE TABLE IF NOT EXISTS looks (
  account_id INT UNSIGNED NOT NULL,
  app_id INT UNSIGNED NOT NULL,
  looked_at DATETIME(3) NOT NULL,
  looked_before DATETIME(3) NULL COMMENT 'the time before, which news are told since',
  PRIMARY KEY (account_id, app_id),
  FOREIGN KEY (account_id) REFERENCES accounts (id) ON DELETE CASCADE,
  FOREIGN KEY (app_id) REFERENCES apps (id) ON DELETE CASCADE
)
