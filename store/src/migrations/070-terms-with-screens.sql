-- Reports of before are found by the screen they came from, too; a job looks at 500 of them again.
INSERT INTO jobs (kind, app_id, subject_id, priority)
  SELECT 'index-terms', app_id, id, 9
  FROM (SELECT app_id, id, ROW_NUMBER() OVER (PARTITION BY app_id ORDER BY id) AS place FROM reports) AS numbered
  WHERE place % 500 = 1 AND NOT EXISTS (SELECT 1 FROM jobs AS known WHERE known.kind = 'index-terms' AND known.subject_id = numbered.id)
