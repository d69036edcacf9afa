CREATE OR REPLACE TRIGGER session_counts_elsewhere AFTER UPDATE ON sessions FOR EACH ROW
BEGIN
  INSERT INTO changes (app_id, subject, subject_key)
  VALUES (NEW.app_id, 'person-day', CONCAT(COALESCE(NEW.person_key, NEW.session_id), UNHEX(LPAD(HEX(DATEDIFF(NEW.day, '1970-01-01')), 4, '0'))));
  IF OLD.day <> NEW.day OR NOT (OLD.person_key <=> NEW.person_key) THEN
    INSERT INTO changes (app_id, subject, subject_key)
    VALUES (OLD.app_id, 'person-day', CONCAT(COALESCE(OLD.person_key, OLD.session_id), UNHEX(LPAD(HEX(DATEDIFF(OLD.day, '1970-01-01')), 4, '0'))));
  END IF;
END
