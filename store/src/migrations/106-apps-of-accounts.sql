ALTER TABLE accounts ADD COLUMN IF NOT EXISTS app_ids JSON NULL COMMENT 'the apps that somebody sees; null for all there are'
