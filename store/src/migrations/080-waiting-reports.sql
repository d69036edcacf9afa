-- What waits and what failed is looked for in all apps at once.
ALTER TABLE reports ADD INDEX IF NOT EXISTS by_state (state, received_at)
