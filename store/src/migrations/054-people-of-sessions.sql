ALTER TABLE sessions ADD INDEX IF NOT EXISTS by_person (app_id, person_key), ADD INDEX IF NOT EXISTS by_installation (app_id, installation_id)
