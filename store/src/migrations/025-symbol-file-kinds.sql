ALTER TABLE symbol_files MODIFY kind ENUM('mapping', 'code', 'sourcemap') NOT NULL
