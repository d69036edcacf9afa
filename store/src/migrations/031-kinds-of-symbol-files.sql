ALTER TABLE symbol_files MODIFY kind ENUM('mapping', 'code', 'sourcemap', 'pdb', 'assembly', 'obfuscation-map', 'split') NOT NULL
