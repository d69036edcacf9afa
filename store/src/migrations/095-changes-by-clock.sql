DROP TABLE IF EXISTS session_moves, report_removals
