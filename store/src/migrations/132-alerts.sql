CREATE TABLE IF NOT EXISTS alerts (
  id BIGINT UNSIGNED PRIMARY KEY AUTO_INCREMENT,
  app_id INT UNSIGNED NOT NULL,
  rule_id INT UNSIGNED NOT NULL,
  kind VARCHAR(20) NOT NULL,
  fact VARCHAR(100) NOT NULL COMMENT 'names what is told, so that a rule tells it once',
  case_id BIGINT UNSIGNED NULL,
  report_row BIGINT UNSIGNED NULL,
  told JSON NULL COMMENT 'what is told where it is about no case',
  at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
  UNIQUE KEY once (rule_id, fact),
  INDEX by_app (app_id, id),
  INDEX by_case (case_id),
  FOREIGN KEY (rule_id) REFERENCES alert_rules (id) ON DELETE CASCADE,
  FOREIGN KEY (case_id) REFERENCES cases (id) ON DELETE CASCADE
)
