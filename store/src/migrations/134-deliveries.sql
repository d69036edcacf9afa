CREATE TABLE IF NOT EXISTS deliveries (
  id BIGINT UNSIGNED PRIMARY KEY AUTO_INCREMENT,
  alert_id BIGINT UNSIGNED NOT NULL,
  rule_id INT UNSIGNED NOT NULL,
  app_id INT UNSIGNED NOT NULL,
  channel_id INT UNSIGNED NULL,
  account_id INT UNSIGNED NULL,
  due_at DATETIME(3) NOT NULL,
  is_done BOOLEAN NOT NULL DEFAULT FALSE,
  message_row BIGINT UNSIGNED NULL COMMENT 'null when there was nothing left to tell',
  INDEX by_turn (is_done, due_at),
  INDEX by_recipient (rule_id, channel_id, account_id, due_at),
  FOREIGN KEY (alert_id) REFERENCES alerts (id) ON DELETE CASCADE,
  FOREIGN KEY (channel_id) REFERENCES channels (id) ON DELETE CASCADE,
  FOREIGN KEY (account_id) REFERENCES accounts (id) ON DELETE CASCADE
)
