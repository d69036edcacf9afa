ALTER TABLE report_needs MODIFY kind ENUM('mapping', 'code', 'sourcemap', 'pdb', 'assembly', 'obfuscation-map', 'split') NOT NULL
