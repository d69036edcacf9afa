CREATE OR REPLACE TRIGGER session_gone AFTER DELETE ON sessions FOR EACH ROW
  IF @ember_keeps_sums IS NULL THEN
    INSERT INTO session_moves (app_id, counted_key, day) VALUES (OLD.app_id, COALESCE(OLD.person_key, OLD.session_id), OLD.day);
  END IF
