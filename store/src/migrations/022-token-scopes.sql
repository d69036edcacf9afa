ALTER TABLE tokens MODIFY scope ENUM('upload', 'read', 'write') NOT NULL
