CREATE TABLE IF NOT EXISTS session_moves (
  id BIGINT UNSIGNED PRIMARY KEY AUTO_INCREMENT,
  app_id INT UNSIGNED NOT NULL,
  counted_key BINARY(16) NOT NULL COMMENT 'the person, or the session where nobody is known',
  day DATE NOT NULL,
  moved_at TIMESTAMP(6) NOT NULL DEFAULT CURRENT_TIMESTAMP(6),
  INDEX by_time (app_id, moved_at)
)
