-- What kind of thing somebody is told, whether it is important, and how each wants to be told of what. Left out, everything by the bell.
ALTER TABLE notification
  ADD COLUMN IF NOT EXISTS kind ENUM('given', 'answer', 'mention', 'time', 'quiet', 'renewal', 'waking', 'trouble', 'release') NULL,
  ADD COLUMN IF NOT EXISTS is_important TINYINT(1) NOT NULL DEFAULT 0;
CREATE TABLE IF NOT EXISTS told_choice (
  user_id BINARY(16) NOT NULL,
  kind ENUM('given', 'answer', 'mention', 'time', 'quiet', 'renewal', 'waking', 'trouble', 'release') NOT NULL,
  level ENUM('all', 'important', 'none') NOT NULL,
  by_browser TINYINT(1) NOT NULL,
  by_mail TINYINT(1) NOT NULL,
  PRIMARY KEY (user_id, kind),
  CONSTRAINT told_choice_user_known FOREIGN KEY (user_id) REFERENCES app_user (id)
) ENGINE = InnoDB;
-- The minute of their day at which somebody is sent what the day brings; null: not.
ALTER TABLE app_user ADD COLUMN IF NOT EXISTS digest_minute INT NULL;
