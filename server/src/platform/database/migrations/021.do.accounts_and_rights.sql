-- Who leads whom, who left, and how people prove who they are.
ALTER TABLE app_user
  ADD COLUMN IF NOT EXISTS manager_id BINARY(16) NULL COMMENT 'id:user' AFTER role,
  ADD COLUMN IF NOT EXISTS deactivated_at DATETIME(3) NULL AFTER demo_words,
  MODIFY COLUMN IF EXISTS password_hash VARCHAR(200) NULL;
ALTER TABLE app_user
  ADD CONSTRAINT app_user_manager FOREIGN KEY IF NOT EXISTS (manager_id) REFERENCES app_user (id) ON DELETE SET NULL;

-- A link that lets its holder choose a password; only its hash is kept.
CREATE TABLE IF NOT EXISTS account_link (
  token_hash BINARY(32) NOT NULL,
  user_id BINARY(16) NOT NULL,
  purpose ENUM('invitation', 'reset') NOT NULL,
  created_at DATETIME(3) NOT NULL,
  expires_at DATETIME(3) NOT NULL,
  PRIMARY KEY (token_hash),
  KEY account_link_user (user_id),
  CONSTRAINT account_link_user FOREIGN KEY (user_id) REFERENCES app_user (id) ON DELETE CASCADE
);

-- The secret of a second factor (RFC 6238), sealed; not asked for until its owner has proven it once.
CREATE TABLE IF NOT EXISTS second_factor (
  user_id BINARY(16) NOT NULL,
  secret VARBINARY(100) NOT NULL,
  proven_at DATETIME(3) NULL,
  -- The last step that was accepted: a code is good once.
  last_step BIGINT NOT NULL DEFAULT 0,
  PRIMARY KEY (user_id),
  CONSTRAINT second_factor_user FOREIGN KEY (user_id) REFERENCES app_user (id) ON DELETE CASCADE
);
CREATE TABLE IF NOT EXISTS recovery_code (
  user_id BINARY(16) NOT NULL,
  code_hash BINARY(32) NOT NULL,
  PRIMARY KEY (user_id, code_hash),
  CONSTRAINT recovery_code_user FOREIGN KEY (user_id) REFERENCES app_user (id) ON DELETE CASCADE
);

-- Sessions can be listed and ended one by one, and end when nobody uses them.
ALTER TABLE session
  ADD COLUMN IF NOT EXISTS id BINARY(16) NULL AFTER token_hash,
  ADD COLUMN IF NOT EXISTS seen_at DATETIME(3) NULL AFTER created_at,
  ADD COLUMN IF NOT EXISTS device VARCHAR(80) NOT NULL DEFAULT '' AFTER expires_at;
UPDATE session SET id = UNHEX(MD5(token_hash)), seen_at = created_at WHERE id IS NULL;
ALTER TABLE session MODIFY COLUMN IF EXISTS id BINARY(16) NOT NULL, MODIFY COLUMN IF EXISTS seen_at DATETIME(3) NOT NULL;
ALTER TABLE session ADD UNIQUE KEY IF NOT EXISTS session_id (id), ADD KEY IF NOT EXISTS session_user (user_id);

-- What an operator looks at after something went wrong: who did what to which account, without addresses or names.
CREATE TABLE IF NOT EXISTS security_event (
  id BINARY(16) NOT NULL,
  at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  kind VARCHAR(40) NOT NULL,
  user_id BINARY(16) NULL,
  about_id BINARY(16) NULL,
  -- A keyed hash: the same address can be told, the address itself cannot.
  address_hash BINARY(16) NULL,
  data VARCHAR(400) NOT NULL DEFAULT '{}',
  PRIMARY KEY (id),
  KEY security_event_at (at, id),
  KEY security_event_user (user_id, at)
);
