CREATE OR REPLACE TRIGGER session_came AFTER INSERT ON sessions FOR EACH ROW
  INSERT INTO changes (app_id, subject, subject_key)
  VALUES (NEW.app_id, 'person-day', CONCAT(COALESCE(NEW.person_key, NEW.session_id), UNHEX(LPAD(HEX(DATEDIFF(NEW.day, '1970-01-01')), 4, '0'))))
