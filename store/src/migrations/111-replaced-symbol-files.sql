ALTER TABLE symbol_files
  MODIFY state ENUM('indexing', 'ready', 'refused', 'replaced') NOT NULL,
  ADD COLUMN IF NOT EXISTS replaced_by INT UNSIGNED NULL COMMENT 'the file of the same build that is used in its place'
