-- Of whose change somebody is told, so that what is undone takes its notice back; and hours in which nothing rings.
ALTER TABLE notification
  MODIFY COLUMN IF EXISTS kind ENUM('given', 'changed', 'answer', 'mention', 'time', 'quiet', 'renewal', 'waking', 'trouble', 'release') NULL,
  ADD COLUMN IF NOT EXISTS set_id BINARY(16) NULL;
ALTER TABLE notification
  ADD KEY IF NOT EXISTS notification_set (set_id, user_id);
ALTER TABLE told_choice
  MODIFY COLUMN IF EXISTS kind ENUM('given', 'changed', 'answer', 'mention', 'time', 'quiet', 'renewal', 'waking', 'trouble', 'release') NOT NULL;
ALTER TABLE app_user
  ADD COLUMN IF NOT EXISTS quiet_from_minute INT NULL,
  ADD COLUMN IF NOT EXISTS quiet_to_minute INT NULL;
