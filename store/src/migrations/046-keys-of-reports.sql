ALTER TABLE reports
  ADD COLUMN IF NOT EXISTS grouping_key BINARY(32) NULL,
  ADD COLUMN IF NOT EXISTS variant_key BINARY(32) NULL,
  ADD INDEX IF NOT EXISTS by_variant (case_id, variant_key)
