-- Written by triggers in the transaction that changes something; whoever follows the database reads them in the order of the log.
CREATE TABLE IF NOT EXISTS changes (
  id BIGINT UNSIGNED PRIMARY KEY AUTO_INCREMENT,
  app_id INT UNSIGNED NOT NULL,
  subject ENUM('report', 'person-day') NOT NULL,
  subject_key VARBINARY(18) NOT NULL COMMENT 'row of a report in 8 bytes; a person, or a session where nobody is known, and a day in 2'
)
