INSERT IGNORE INTO change_position (id, next_position, kept_after) VALUES (1, 1, 0)
