CREATE OR REPLACE TRIGGER session_gone AFTER DELETE ON sessions FOR EACH ROW
  IF @ember_keeps_sums IS NULL THEN
    INSERT INTO changes (app_id, subject, subject_key)
    VALUES (OLD.app_id, 'person-day', CONCAT(COALESCE(OLD.person_key, OLD.session_id), UNHEX(LPAD(HEX(DATEDIFF(OLD.day, '1970-01-01')), 4, '0'))));
  END IF
