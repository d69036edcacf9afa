UPDATE report_needs SET symbol_key = LEFT(symbol_key, 7) WHERE kind = 'mapping' AND symbol_key REGEXP '^[0-9a-f]{8,}$'
