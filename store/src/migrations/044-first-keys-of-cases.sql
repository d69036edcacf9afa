INSERT IGNORE INTO case_keys (app_id, key_hash, case_id) SELECT app_id, grouping_key, id FROM cases
