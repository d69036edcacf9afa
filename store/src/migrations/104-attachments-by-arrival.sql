ALTER TABLE attachments ADD INDEX IF NOT EXISTS by_arrival (app_id, received_at, size_bytes)
