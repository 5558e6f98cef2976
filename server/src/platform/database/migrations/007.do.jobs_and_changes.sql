-- Background work. Claimed in one statement, acted on outside that transaction, then marked.
CREATE TABLE job (
  id BINARY(16) PRIMARY KEY,
  dedupe_key VARCHAR(120) NOT NULL,
  kind VARCHAR(40) NOT NULL,
  payload JSON NOT NULL,
  shard TINYINT NOT NULL,
  state ENUM('due', 'claimed', 'acting', 'done', 'failed', 'review') NOT NULL DEFAULT 'due',
  due_at DATETIME(3) NOT NULL,
  owner BINARY(16) NULL,
  lease_until DATETIME(3) NULL,
  attempts INT NOT NULL DEFAULT 0,
  last_error VARCHAR(500) NULL,
  finished_at DATETIME(3) NULL,
  UNIQUE KEY job_once (dedupe_key),
  KEY job_due (shard, state, due_at),
  KEY job_owner (owner),
  KEY job_lease (state, lease_until)
) ENGINE = InnoDB;

-- What changed, for the browsers that are open. The database's own clock orders it, whichever server wrote.
CREATE TABLE change_notice (
  id BINARY(16) PRIMARY KEY,
  recorded_at DATETIME(3) NOT NULL DEFAULT NOW(3),
  topic VARCHAR(20) NOT NULL,
  record_id BINARY(16) NOT NULL,
  by_user_id BINARY(16) NULL,
  KEY change_order (recorded_at, id)
) ENGINE = InnoDB;
