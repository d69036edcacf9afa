CREATE OR REPLACE TRIGGER report_gone AFTER DELETE ON reports FOR EACH ROW
  INSERT INTO changes (app_id, subject, subject_key) VALUES (OLD.app_id, 'report', UNHEX(LPAD(HEX(OLD.id), 16, '0')))
