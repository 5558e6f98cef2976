CREATE TABLE task (
  id BINARY(16) PRIMARY KEY,
  channel VARCHAR(10) NOT NULL,
  purpose VARCHAR(200) NOT NULL,
  due_on DATE NOT NULL,
  promised_at DATETIME(3) NULL,
  minutes INT NOT NULL,
  state ENUM('open', 'done', 'dropped') NOT NULL DEFAULT 'open',
  owner_id BINARY(16) NOT NULL,
  contact_id BINARY(16) NULL,
  company_id BINARY(16) NULL,
  deal_id BINARY(16) NULL,
  run_id BINARY(16) NULL,
  run_step INT NULL,
  -- Working days to the step after, for the Round; null for tasks made by hand.
  spacing_days INT NULL,
  times_moved INT NOT NULL DEFAULT 0,
  drop_reason VARCHAR(300) NULL,
  finished_at DATETIME(3) NULL,
  created_at DATETIME(3) NOT NULL,
  version INT NOT NULL DEFAULT 1,
  KEY task_owner_due (owner_id, state, due_on),
  KEY task_owner_finished (owner_id, state, finished_at),
  KEY task_contact (contact_id, state, due_on),
  KEY task_company (company_id, state, due_on),
  KEY task_deal (deal_id, state, due_on),
  KEY task_run (run_id, state)
) ENGINE = InnoDB;

CREATE TABLE journal_entry (
  id BINARY(16) PRIMARY KEY,
  at DATETIME(3) NOT NULL,
  kind VARCHAR(10) NOT NULL,
  direction ENUM('out', 'in') NULL,
  outcome_id VARCHAR(40) NULL,
  outcome_label VARCHAR(60) NULL,
  counts ENUM('conversation', 'attempt', 'none') NOT NULL,
  minutes INT NULL,
  body TEXT NOT NULL,
  user_id BINARY(16) NULL,
  contact_id BINARY(16) NULL,
  company_id BINARY(16) NULL,
  deal_id BINARY(16) NULL,
  task_id BINARY(16) NULL,
  run_id BINARY(16) NULL,
  removed_at DATETIME(3) NULL,
  created_at DATETIME(3) NOT NULL,
  KEY journal_contact (contact_id, at, id),
  KEY journal_company (company_id, at, id),
  KEY journal_deal (deal_id, at, id),
  KEY journal_user_outcome (user_id, kind, at)
) ENGINE = InnoDB;

-- What a log changed, as it was before: a log can be taken back while none of it was changed since.
CREATE TABLE undo_step (
  entry_id BINARY(16) PRIMARY KEY,
  user_id BINARY(16) NOT NULL,
  before_state JSON NOT NULL,
  undone_at DATETIME(3) NULL,
  created_at DATETIME(3) NOT NULL
) ENGINE = InnoDB;

CREATE TABLE meeting (
  id BINARY(16) PRIMARY KEY,
  user_id BINARY(16) NOT NULL,
  title VARCHAR(160) NOT NULL,
  place VARCHAR(160) NULL,
  starts_at DATETIME(3) NOT NULL,
  ends_at DATETIME(3) NOT NULL,
  travel_minutes INT NOT NULL DEFAULT 0,
  contact_id BINARY(16) NULL,
  created_at DATETIME(3) NOT NULL,
  version INT NOT NULL DEFAULT 1,
  KEY meeting_of_day (user_id, starts_at)
) ENGINE = InnoDB;
