CREATE OR REPLACE TRIGGER session_counts_elsewhere AFTER UPDATE ON sessions FOR EACH ROW
  IF OLD.begun AND (OLD.day <> NEW.day OR NOT (OLD.person_key <=> NEW.person_key)) THEN
    INSERT INTO session_moves (app_id, counted_key, day) VALUES (OLD.app_id, COALESCE(OLD.person_key, OLD.session_id), OLD.day);
  END IF
