-- What happens by itself: when … if … then …
CREATE TABLE IF NOT EXISTS house_rule (
  id BINARY(16) PRIMARY KEY,
  name VARCHAR(120) NOT NULL,
  subject ENUM('contact', 'deal', 'lead', 'agreement') NOT NULL,
  -- What it waits for, asks and does.
  waits_for JSON NOT NULL,
  asks JSON NULL,
  does JSON NOT NULL,
  is_on TINYINT(1) NOT NULL,
  on_since DATETIME(3) NULL,
  missed ENUM('catch-up', 'skip') NOT NULL,
  per_day INT NOT NULL,
  -- In whose name it acts.
  user_id BINARY(16) NOT NULL,
  -- The last day that one that goes by the calendar has looked at.
  looked_on DATE NULL,
  created_at DATETIME(3) NOT NULL,
  changed_at DATETIME(3) NOT NULL,
  removed_at DATETIME(3) NULL,
  version INT NOT NULL DEFAULT 1,
  CONSTRAINT house_rule_user_known FOREIGN KEY (user_id) REFERENCES app_user (id),
  CONSTRAINT house_rule_per_day_range CHECK (per_day > 0)
) ENGINE = InnoDB;

-- The event each waits for.
CREATE TABLE IF NOT EXISTS house_rule_event (
  rule_id BINARY(16) PRIMARY KEY,
  topic VARCHAR(20) NOT NULL,
  kind VARCHAR(40) NOT NULL,
  KEY house_rule_event_kind (topic, kind),
  CONSTRAINT house_rule_event_known FOREIGN KEY (rule_id) REFERENCES house_rule (id)
) ENGINE = InnoDB;

-- What each did: once for each cause, whatever is tried again.
CREATE TABLE IF NOT EXISTS rule_firing (
  id BINARY(16) PRIMARY KEY,
  rule_id BINARY(16) NOT NULL,
  -- An event's id, or a record and its day.
  cause VARCHAR(80) NOT NULL,
  record_id BINARY(16) NOT NULL,
  at DATETIME(3) NOT NULL,
  state ENUM('done', 'refused', 'stopped', 'over') NOT NULL,
  because VARCHAR(300) NOT NULL,
  words VARCHAR(500) NOT NULL,
  -- The change that it made.
  set_id BINARY(16) NULL,
  -- The rules that led to it, the first one first, and it.
  chain JSON NOT NULL,
  UNIQUE KEY rule_firing_once (rule_id, cause),
  KEY rule_firing_at (rule_id, at),
  KEY rule_firing_set (set_id),
  KEY rule_firing_record (record_id),
  KEY rule_firing_age (at),
  CONSTRAINT rule_firing_rule_known FOREIGN KEY (rule_id) REFERENCES house_rule (id)
) ENGINE = InnoDB;
