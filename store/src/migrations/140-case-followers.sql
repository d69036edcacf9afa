CREATE TABLE IF NOT EXISTS case_followers (
  case_id BIGINT UNSIGNED NOT NULL,
  account_id INT UNSIGNED NOT NULL,
  PRIMARY KEY (case_id, account_id),
  FOREIGN KEY (case_id) REFERENCES cases (id) ON DELETE CASCADE,
  FOREIGN KEY (account_id) REFERENCES accounts (id) ON DELETE CASCADE
)
