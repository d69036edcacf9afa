INSERT INTO changes (app_id, subject, subject_key)
  SELECT app_id, 'person-day', CONCAT(counted_key, UNHEX(LPAD(HEX(DATEDIFF(day, '1970-01-01')), 4, '0'))) FROM session_moves
