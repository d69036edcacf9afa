INSERT IGNORE INTO turns (name, turn) VALUES ('owners', 0)
