INSERT INTO jobs (kind, app_id, subject_id, priority)
  SELECT 'process-report', app_id, id, 9 FROM reports
  WHERE state = 'processed' AND NOT EXISTS (SELECT 1 FROM jobs AS known WHERE known.kind = 'process-report' AND known.subject_id = reports.id)
