UPDATE report_needs SET symbol_key = LEFT(LOWER(symbol_id), 32) WHERE symbol_id <> ''
