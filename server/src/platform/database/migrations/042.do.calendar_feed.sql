-- The secret address under which somebody's calendar can be subscribed to; of the address only a hash is kept.
CREATE TABLE IF NOT EXISTS calendar_feed (
  user_id BINARY(16) PRIMARY KEY,
  token_hash BINARY(32) NOT NULL,
  created_at DATETIME(3) NOT NULL,
  read_at DATETIME(3) NULL,
  UNIQUE KEY calendar_feed_token (token_hash),
  CONSTRAINT calendar_feed_user_known FOREIGN KEY (user_id) REFERENCES app_user (id)
) ENGINE = InnoDB;
