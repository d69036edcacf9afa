ALTER TABLE report_bodies MODIFY explanation MEDIUMTEXT COMPRESSED NULL COMMENT 'why the report is in its case, JSON'
