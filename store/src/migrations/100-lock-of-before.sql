-- The lock of the tool that migrated before; it outlived whoever was killed with it.
DROP TABLE IF EXISTS migrations_lock
