CREATE TABLE IF NOT EXISTS sign_ins (
  token_hash BINARY(32) PRIMARY KEY,
  account_id INT UNSIGNED NOT NULL,
  created_at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
  expires_at DATETIME(3) NOT NULL,
  INDEX (expires_at),
  FOREIGN KEY (account_id) REFERENCES accounts (id) ON DELETE CASCADE
)
