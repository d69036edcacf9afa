CREATE TABLE IF NOT EXISTS case_events (
  id BIGINT UNSIGNED PRIMARY KEY AUTO_INCREMENT,
  case_id BIGINT UNSIGNED NOT NULL,
  at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3),
  actor VARCHAR(254) NOT NULL COMMENT 'mail address, or token; empty for a report',
  kind VARCHAR(20) NOT NULL,
  detail JSON NOT NULL,
  before_standing JSON NULL COMMENT 'what undoing brings back; null for a note',
  undone BOOLEAN NOT NULL DEFAULT FALSE,
  INDEX by_case (case_id, id),
  FOREIGN KEY (case_id) REFERENCES cases (id) ON DELETE CASCADE
)
