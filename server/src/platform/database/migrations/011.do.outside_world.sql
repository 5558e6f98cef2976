-- Keys that the application makes for itself, such as the one that links in mails are signed with.
CREATE TABLE secret (
  name VARCHAR(40) PRIMARY KEY,
  value VARBINARY(64) NOT NULL
) ENGINE = InnoDB;

-- Steps that go by themselves are planned as tasks too, so that every tether shows them; nobody has to do them.
ALTER TABLE task ADD COLUMN is_automatic BOOLEAN NOT NULL DEFAULT FALSE AFTER run_step;

ALTER TABLE app_user ADD COLUMN signature VARCHAR(2000) NOT NULL DEFAULT '' AFTER hours;

ALTER TABLE cadence
  ADD COLUMN retired_at DATETIME(3) NULL AFTER created_at;

CREATE TABLE template (
  id BINARY(16) PRIMARY KEY,
  name VARCHAR(80) NOT NULL,
  channel ENUM('email', 'text') NOT NULL,
  subject VARCHAR(300) NOT NULL DEFAULT '',
  body TEXT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  retired_at DATETIME(3) NULL,
  version INT NOT NULL DEFAULT 1,
  UNIQUE KEY template_name (name)
) ENGINE = InnoDB;

CREATE TABLE snippet (
  id BINARY(16) PRIMARY KEY,
  name VARCHAR(40) NOT NULL,
  body TEXT NOT NULL,
  version INT NOT NULL DEFAULT 1,
  UNIQUE KEY snippet_name (name)
) ENGINE = InnoDB;

ALTER TABLE stored_file
  ADD COLUMN template_id BINARY(16) NULL AFTER deal_id,
  ADD KEY file_template (template_id, created_at);

-- What arrived, byte for byte, before anybody has read it. The same bytes twice are one arrival.
CREATE TABLE mail_arrival (
  id BINARY(16) PRIMARY KEY,
  digest BINARY(32) NOT NULL,
  envelope_from VARCHAR(254) NULL,
  content LONGBLOB NOT NULL,
  arrived_at DATETIME(3) NOT NULL,
  UNIQUE KEY arrival_once (digest)
) ENGINE = InnoDB;

CREATE TABLE mail (
  id BINARY(16) PRIMARY KEY,
  direction ENUM('out', 'in') NOT NULL,
  -- Out: waiting, handing-over, sent, failed, held, withdrawn. In: unfiled, filed, let-go.
  state VARCHAR(12) NOT NULL,
  -- In: human, automatic, out-of-office, bounce, unsubscribe.
  kind VARCHAR(16) NULL,
  message_id VARCHAR(250) NOT NULL,
  idempotency_key VARCHAR(120) NULL,
  thread_id BINARY(16) NOT NULL,
  in_reply_to VARCHAR(250) NULL,
  reference_ids TEXT NOT NULL DEFAULT '',
  from_name VARCHAR(200) NOT NULL DEFAULT '',
  from_address VARCHAR(254) NOT NULL,
  to_address VARCHAR(254) NOT NULL,
  subject VARCHAR(400) NOT NULL,
  text MEDIUMTEXT NOT NULL,
  html MEDIUMTEXT NULL,
  -- Addresses of the links in the text, in their order: what a signed link leads to.
  links JSON NOT NULL DEFAULT '[]',
  user_id BINARY(16) NULL,
  contact_id BINARY(16) NULL,
  deal_id BINARY(16) NULL,
  run_id BINARY(16) NULL,
  run_step INT NULL,
  template_id BINARY(16) NULL,
  entry_id BINARY(16) NULL,
  arrival_id BINARY(16) NULL,
  at DATETIME(3) NOT NULL,
  due_at DATETIME(3) NULL,
  handed_at DATETIME(3) NULL,
  attempts INT NOT NULL DEFAULT 0,
  -- The server's last words, or what went wrong.
  said VARCHAR(500) NULL,
  version INT NOT NULL DEFAULT 1,
  UNIQUE KEY mail_message (message_id, direction),
  UNIQUE KEY mail_once (idempotency_key),
  KEY mail_thread (thread_id, at, id),
  KEY mail_contact (contact_id, at, id),
  KEY mail_state (state, at, id),
  KEY mail_run (run_id, state),
  KEY mail_to (to_address, at)
) ENGINE = InnoDB;

-- What each sender has sent on a day of theirs, and from when the next may go: the pace and the limit.
CREATE TABLE sender_day (
  user_id BINARY(16) NOT NULL,
  on_date DATE NOT NULL,
  sent INT NOT NULL DEFAULT 0,
  next_at DATETIME(3) NOT NULL,
  PRIMARY KEY (user_id, on_date)
) ENGINE = InnoDB;

-- How far a mailbox has been read.
CREATE TABLE mailbox_cursor (
  mailbox VARCHAR(200) PRIMARY KEY,
  uid_validity BIGINT NOT NULL,
  last_uid BIGINT NOT NULL
) ENGINE = InnoDB;

-- Signs of life from outside, each to be looked at once.
CREATE TABLE stirring (
  id BINARY(16) PRIMARY KEY,
  dedupe_key VARCHAR(120) NOT NULL,
  at DATETIME(3) NOT NULL,
  kind VARCHAR(16) NOT NULL,
  words VARCHAR(300) NOT NULL,
  user_id BINARY(16) NULL,
  contact_id BINARY(16) NULL,
  deal_id BINARY(16) NULL,
  mail_id BINARY(16) NULL,
  -- Of a call or text from outside: the number it came from, and the text.
  number VARCHAR(30) NULL,
  text_id BINARY(16) NULL,
  times INT NOT NULL DEFAULT 1,
  handled_at DATETIME(3) NULL,
  handled_by BINARY(16) NULL,
  version INT NOT NULL DEFAULT 1,
  UNIQUE KEY stirring_once (dedupe_key),
  KEY stirring_user (user_id, handled_at, at, id),
  KEY stirring_contact (contact_id, at, id)
) ENGINE = InnoDB;

CREATE TABLE text_message (
  id BINARY(16) PRIMARY KEY,
  direction ENUM('out', 'in') NOT NULL,
  -- Out: waiting, sent, delivered, failed, withdrawn. In: filed, unfiled.
  state VARCHAR(12) NOT NULL,
  number VARCHAR(20) NOT NULL,
  body VARCHAR(2000) NOT NULL,
  gateway_id VARCHAR(80) NULL,
  user_id BINARY(16) NULL,
  contact_id BINARY(16) NULL,
  run_id BINARY(16) NULL,
  run_step INT NULL,
  template_id BINARY(16) NULL,
  entry_id BINARY(16) NULL,
  at DATETIME(3) NOT NULL,
  attempts INT NOT NULL DEFAULT 0,
  said VARCHAR(300) NULL,
  UNIQUE KEY text_gateway (gateway_id),
  KEY text_contact (contact_id, at, id),
  KEY text_number (number, at),
  KEY text_run (run_id, state)
) ENGINE = InnoDB;

CREATE TABLE phone_call (
  id BINARY(16) PRIMARY KEY,
  -- dialling, ringing, answered, ended, failed.
  state VARCHAR(10) NOT NULL,
  number VARCHAR(20) NOT NULL,
  user_id BINARY(16) NOT NULL,
  contact_id BINARY(16) NULL,
  started_at DATETIME(3) NOT NULL,
  answered_at DATETIME(3) NULL,
  ended_at DATETIME(3) NULL,
  -- As the line tells it: answered, no-answer, busy, voicemail, wrong-number, failed.
  result VARCHAR(14) NULL,
  seconds INT NULL,
  KEY call_user (user_id, started_at)
) ENGINE = InnoDB;

-- Events of the gateways that were taken in, so that each counts once.
CREATE TABLE gateway_event (
  event_id VARCHAR(80) PRIMARY KEY,
  taken_at DATETIME(3) NOT NULL
) ENGINE = InnoDB;

-- What became of each step of each run.
CREATE TABLE run_step (
  run_id BINARY(16) NOT NULL,
  step INT NOT NULL,
  channel VARCHAR(10) NOT NULL,
  template_id BINARY(16) NULL,
  reached_at DATETIME(3) NOT NULL,
  acted_at DATETIME(3) NULL,
  answered_at DATETIME(3) NULL,
  PRIMARY KEY (run_id, step),
  CONSTRAINT step_of_run FOREIGN KEY (run_id) REFERENCES run (id)
) ENGINE = InnoDB;
