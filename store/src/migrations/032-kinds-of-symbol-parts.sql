ALTER TABLE symbol_parts MODIFY kind ENUM('mapping', 'code', 'sourcemap', 'pdb', 'assembly', 'obfuscation-map', 'split') NOT NULL
