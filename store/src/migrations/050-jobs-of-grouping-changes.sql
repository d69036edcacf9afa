ALTER TABLE jobs MODIFY kind ENUM('process-report', 'index-symbol-file', 'index-terms', 'change-grouping') NOT NULL
