CREATE TABLE IF NOT EXISTS sign_in_attempts (
  subject BINARY(32) NOT NULL COMMENT 'hash of a mail address, or of the address a request came from',
  minute INT UNSIGNED NOT NULL COMMENT 'since 1970',
  failures INT UNSIGNED NOT NULL,
  PRIMARY KEY (subject, minute)
)
