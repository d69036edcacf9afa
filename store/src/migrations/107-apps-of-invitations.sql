ALTER TABLE invitations ADD COLUMN IF NOT EXISTS app_ids JSON NULL COMMENT 'the apps that somebody will see; null for all there are'
