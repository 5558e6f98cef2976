-- What a person's own programs ask with. Only a hash of the key is kept.
CREATE TABLE IF NOT EXISTS api_key (
  id BINARY(16) PRIMARY KEY,
  user_id BINARY(16) NOT NULL,
  name VARCHAR(80) NOT NULL,
  -- None until it was said to whoever made it.
  token_hash BINARY(32) NULL,
  token_start CHAR(12) NULL,
  scopes JSON NOT NULL,
  made_at DATETIME(3) NOT NULL,
  last_on DATE NULL,
  used_at DATETIME(3) NULL,
  withdrawn_at DATETIME(3) NULL,
  UNIQUE KEY api_key_token (token_hash),
  KEY api_key_of_user (user_id, made_at),
  CONSTRAINT api_key_user_known FOREIGN KEY (user_id) REFERENCES app_user (id)
) ENGINE = InnoDB;

-- Addresses outside that are told what happens here.
CREATE TABLE IF NOT EXISTS hook (
  id BINARY(16) PRIMARY KEY,
  name VARCHAR(80) NOT NULL,
  url VARCHAR(1000) NOT NULL,
  is_on TINYINT(1) NOT NULL DEFAULT 1,
  -- Why it was switched off without anybody asking.
  off_because ENUM('failing', 'gone') NULL,
  user_id BINARY(16) NOT NULL,
  tried_at DATETIME(3) NULL,
  failing_since DATETIME(3) NULL,
  failure VARCHAR(500) NULL,
  created_at DATETIME(3) NOT NULL,
  changed_at DATETIME(3) NOT NULL,
  removed_at DATETIME(3) NULL,
  version INT NOT NULL DEFAULT 1,
  CONSTRAINT hook_user_known FOREIGN KEY (user_id) REFERENCES app_user (id)
) ENGINE = InnoDB;

-- What each is told of.
CREATE TABLE IF NOT EXISTS hook_event (
  hook_id BINARY(16) NOT NULL,
  name VARCHAR(40) NOT NULL,
  topic VARCHAR(20) NOT NULL,
  kind VARCHAR(40) NOT NULL,
  PRIMARY KEY (hook_id, name),
  KEY hook_event_kind (topic, kind),
  CONSTRAINT hook_event_known FOREIGN KEY (hook_id) REFERENCES hook (id)
) ENGINE = InnoDB;

CREATE TABLE IF NOT EXISTS hook_secret (
  hook_id BINARY(16) PRIMARY KEY,
  secret VARBINARY(400) NOT NULL,
  former VARBINARY(400) NULL,
  former_until DATETIME(3) NULL,
  CONSTRAINT hook_secret_known FOREIGN KEY (hook_id) REFERENCES hook (id)
) ENGINE = InnoDB;

-- An event that an address is to be told, written in the transaction that made the event.
CREATE TABLE IF NOT EXISTS hook_call (
  event_id BINARY(16) NOT NULL,
  hook_id BINARY(16) NOT NULL,
  type VARCHAR(40) NOT NULL,
  made_at DATETIME(3) NOT NULL,
  state ENUM('waiting', 'sent', 'given-up') NOT NULL DEFAULT 'waiting',
  due_at DATETIME(3) NOT NULL,
  tries INT NOT NULL DEFAULT 0,
  status SMALLINT NULL,
  failure VARCHAR(500) NULL,
  tried_at DATETIME(3) NULL,
  taken_by BINARY(16) NULL,
  taken_until DATETIME(3) NULL,
  PRIMARY KEY (event_id, hook_id),
  KEY hook_call_due (hook_id, state, due_at),
  KEY hook_call_made (hook_id, made_at),
  KEY hook_call_taken (taken_by),
  KEY hook_call_age (made_at),
  CONSTRAINT hook_call_known FOREIGN KEY (hook_id) REFERENCES hook (id)
) ENGINE = InnoDB;
