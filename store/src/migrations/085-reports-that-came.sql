CREATE OR REPLACE TRIGGER report_came AFTER INSERT ON reports FOR EACH ROW
  INSERT INTO changes (app_id, subject, subject_key) VALUES (NEW.app_id, 'report', UNHEX(LPAD(HEX(NEW.id), 16, '0')))
