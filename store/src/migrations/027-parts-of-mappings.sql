INSERT IGNORE INTO symbol_parts (file_id, part, app_id, kind, symbol_id, symbol_key, name, summary)
  SELECT id, 0, app_id, kind, map_id, LEFT(LOWER(map_id), 32), NULL, summary FROM symbol_files WHERE state = 'ready' AND summary IS NOT NULL
