-- A stage that goes is retired, not deleted: closed deals and their past still name it.
ALTER TABLE stage
  ADD COLUMN needs JSON NOT NULL DEFAULT '[]',
  ADD COLUMN brief JSON NOT NULL DEFAULT '{"prompts":[],"tasks":[]}',
  ADD COLUMN retired_at DATETIME(3) NULL,
  ADD KEY stage_order (pipeline_id, position),
  DROP KEY stage_name;

ALTER TABLE pipeline
  ADD COLUMN retired_at DATETIME(3) NULL,
  DROP KEY pipeline_name;

-- LEAD is a word of SQL's own.
CREATE TABLE sales_lead (
  id BINARY(16) PRIMARY KEY,
  contact_id BINARY(16) NOT NULL,
  owner_id BINARY(16) NULL,
  status ENUM('untried', 'trying', 'in-talks', 'qualified', 'set-aside') NOT NULL DEFAULT 'untried',
  status_since DATETIME(3) NOT NULL,
  -- What a person last said of it: what happened since then can only take it on from there.
  hand_status ENUM('untried', 'trying', 'in-talks', 'qualified', 'set-aside') NOT NULL DEFAULT 'untried',
  hand_at DATETIME(3) NOT NULL,
  warmth ENUM('hot', 'warm', 'cool') NULL,
  subject VARCHAR(160) NOT NULL,
  about TEXT NOT NULL DEFAULT '',
  -- As they said it: a company is made of it when the lead is qualified, or found to be there.
  company_name VARCHAR(160) NULL,
  postcode VARCHAR(20) NULL,
  source VARCHAR(160) NULL,
  campaign VARCHAR(160) NULL,
  follow_up_on DATE NULL,
  link VARCHAR(500) NULL,
  form_id BINARY(16) NULL,
  consent_words VARCHAR(600) NULL,
  consent_at DATETIME(3) NULL,
  aside_reason VARCHAR(300) NULL,
  wake_on DATE NULL,
  archived_at DATETIME(3) NULL,
  deal_id BINARY(16) NULL,
  import_id BINARY(16) NULL,
  -- When the rule for new leads gave it to its owner: who had none for longest is next.
  given_at DATETIME(3) NULL,
  created_at DATETIME(3) NOT NULL,
  version INT NOT NULL DEFAULT 1,
  KEY lead_owner (owner_id, status, created_at),
  KEY lead_status (status, archived_at, created_at, id),
  KEY lead_contact (contact_id, created_at),
  KEY lead_deal (deal_id),
  KEY lead_given (owner_id, given_at),
  CONSTRAINT lead_of_contact FOREIGN KEY (contact_id) REFERENCES contact (id)
) ENGINE = InnoDB;

-- What a qualifying changed, so that it can be taken back.
CREATE TABLE qualification (
  id BINARY(16) PRIMARY KEY,
  lead_id BINARY(16) NOT NULL,
  deal_id BINARY(16) NOT NULL,
  user_id BINARY(16) NOT NULL,
  state JSON NOT NULL,
  at DATETIME(3) NOT NULL,
  undone_at DATETIME(3) NULL,
  KEY qualification_lead (lead_id, at),
  CONSTRAINT qualification_of_lead FOREIGN KEY (lead_id) REFERENCES sales_lead (id)
) ENGINE = InnoDB;

CREATE TABLE web_form (
  id BINARY(16) PRIMARY KEY,
  form_key VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  name VARCHAR(80) NOT NULL,
  title VARCHAR(120) NOT NULL,
  asks_phone BOOLEAN NOT NULL,
  asks_company BOOLEAN NOT NULL,
  asks_postcode BOOLEAN NOT NULL,
  consent_words VARCHAR(600) NOT NULL,
  thanks VARCHAR(300) NOT NULL,
  source VARCHAR(160) NOT NULL,
  campaign VARCHAR(160) NULL,
  is_open BOOLEAN NOT NULL,
  origins JSON NOT NULL,
  -- Sendings that fell into the trap for machines.
  trapped INT NOT NULL DEFAULT 0,
  created_at DATETIME(3) NOT NULL,
  version INT NOT NULL DEFAULT 1,
  UNIQUE KEY web_form_key (form_key)
) ENGINE = InnoDB;

ALTER TABLE deal
  ADD COLUMN type ENUM('new', 'more', 'renewal') NOT NULL DEFAULT 'new',
  ADD COLUMN priority ENUM('high', 'usual', 'low') NOT NULL DEFAULT 'usual',
  ADD COLUMN decision_on DATE NULL,
  ADD COLUMN source VARCHAR(160) NULL,
  ADD COLUMN parent_id BINARY(16) NULL,
  ADD COLUMN lead_id BINARY(16) NULL,
  ADD COLUMN close_words VARCHAR(2000) NOT NULL DEFAULT '',
  ADD COLUMN lost_to VARCHAR(120) NULL,
  -- Nobody without a day comes before somebody with one when a list is sorted by it.
  ADD COLUMN next_step_sort DATE AS (COALESCE(next_step_on, '9999-12-31')) PERSISTENT,
  ADD COLUMN close_sort DATE AS (COALESCE(expected_close_on, '9999-12-31')) PERSISTENT,
  ADD KEY deal_stage (stage_id, status),
  ADD KEY deal_parent (parent_id),
  ADD KEY deal_next (status, next_step_sort, id),
  ADD KEY deal_close (status, close_sort, id),
  ADD KEY deal_value (status, amount_minor, id),
  ADD KEY deal_name (status, name, id),
  ADD KEY deal_won (status, closed_on, id);

-- Each stay of a deal in a stage, in order; the last of an open deal has not ended.
CREATE TABLE stage_stay (
  deal_id BINARY(16) NOT NULL,
  number INT NOT NULL,
  stage_id BINARY(16) NOT NULL,
  entered_at DATETIME(3) NOT NULL,
  left_at DATETIME(3) NULL,
  PRIMARY KEY (deal_id, number),
  KEY stay_of_stage (stage_id, entered_at),
  CONSTRAINT stay_of_deal FOREIGN KEY (deal_id) REFERENCES deal (id) ON DELETE CASCADE
) ENGINE = InnoDB;
INSERT INTO stage_stay (deal_id, number, stage_id, entered_at, left_at)
  SELECT id, 1, stage_id, stage_since, IF(status = 'open', NULL, COALESCE(CAST(closed_on AS DATETIME(3)), moved_at)) FROM deal;

CREATE TABLE deal_person (
  deal_id BINARY(16) NOT NULL,
  contact_id BINARY(16) NOT NULL,
  role ENUM('decides', 'signs', 'uses', 'advises') NOT NULL,
  PRIMARY KEY (deal_id, contact_id, role),
  KEY deals_of_person (contact_id, deal_id),
  CONSTRAINT person_of_deal FOREIGN KEY (deal_id) REFERENCES deal (id) ON DELETE CASCADE,
  CONSTRAINT contact_in_deal FOREIGN KEY (contact_id) REFERENCES contact (id) ON DELETE CASCADE
) ENGINE = InnoDB;

CREATE TABLE product (
  id BINARY(16) PRIMARY KEY,
  name VARCHAR(160) NOT NULL,
  price_minor BIGINT NOT NULL,
  billing ENUM('once', 'yearly') NOT NULL,
  is_retired BOOLEAN NOT NULL DEFAULT FALSE,
  version INT NOT NULL DEFAULT 1,
  UNIQUE KEY product_name (name)
) ENGINE = InnoDB;

CREATE TABLE deal_line (
  id BINARY(16) PRIMARY KEY,
  deal_id BINARY(16) NOT NULL,
  position INT NOT NULL,
  product_id BINARY(16) NULL,
  name VARCHAR(160) NOT NULL,
  quantity DECIMAL(12, 2) NOT NULL,
  price_minor BIGINT NOT NULL,
  discount_percent DECIMAL(5, 2) NOT NULL,
  billing ENUM('once', 'yearly') NOT NULL,
  KEY line_of_deal (deal_id, position),
  CONSTRAINT line_in_deal FOREIGN KEY (deal_id) REFERENCES deal (id) ON DELETE CASCADE
) ENGINE = InnoDB;

CREATE TABLE deal_competitor (
  deal_id BINARY(16) NOT NULL,
  name VARCHAR(120) NOT NULL,
  PRIMARY KEY (deal_id, name),
  KEY competitor_deals (name, deal_id),
  CONSTRAINT competitor_in_deal FOREIGN KEY (deal_id) REFERENCES deal (id) ON DELETE CASCADE
) ENGINE = InnoDB;

CREATE TABLE deal_colleague (
  deal_id BINARY(16) NOT NULL,
  user_id BINARY(16) NOT NULL,
  PRIMARY KEY (deal_id, user_id),
  KEY deals_of_colleague (user_id, deal_id),
  CONSTRAINT colleague_in_deal FOREIGN KEY (deal_id) REFERENCES deal (id) ON DELETE CASCADE
) ENGINE = InnoDB;

CREATE TABLE prompt_tick (
  deal_id BINARY(16) NOT NULL,
  prompt_id BINARY(16) NOT NULL,
  user_id BINARY(16) NOT NULL,
  at DATETIME(3) NOT NULL,
  PRIMARY KEY (deal_id, prompt_id),
  CONSTRAINT tick_of_deal FOREIGN KEY (deal_id) REFERENCES deal (id) ON DELETE CASCADE
) ENGINE = InnoDB;

-- The one task that each line of a stage brief made for a deal, however often the deal came back.
CREATE TABLE brief_task (
  deal_id BINARY(16) NOT NULL,
  brief_task_id BINARY(16) NOT NULL,
  stage_id BINARY(16) NOT NULL,
  task_id BINARY(16) NOT NULL,
  -- The task's version when nobody had touched it.
  untouched_version INT NOT NULL,
  PRIMARY KEY (deal_id, brief_task_id),
  KEY brief_of_task (task_id),
  CONSTRAINT brief_task_of_deal FOREIGN KEY (deal_id) REFERENCES deal (id) ON DELETE CASCADE
) ENGINE = InnoDB;

ALTER TABLE saved_view MODIFY COLUMN place ENUM('people', 'tasks', 'deals', 'leads') NOT NULL;
ALTER TABLE landing_view MODIFY COLUMN place ENUM('people', 'tasks', 'deals', 'leads') NOT NULL;

CREATE TABLE favourite_view (
  user_id BINARY(16) NOT NULL,
  view_id BINARY(16) NOT NULL,
  PRIMARY KEY (user_id, view_id),
  CONSTRAINT favourite_of_view FOREIGN KEY (view_id) REFERENCES saved_view (id) ON DELETE CASCADE
) ENGINE = InnoDB;

ALTER TABLE import_batch
  -- A lead for everybody it brings, with this campaign; null makes none.
  ADD COLUMN leads_as VARCHAR(160) NULL;

-- How often a conversation followed within 30 days of the so-manieth unanswered try: learned each night.
CREATE TABLE answer_tally (
  tries INT PRIMARY KEY,
  cases INT NOT NULL,
  answered INT NOT NULL
) ENGINE = InnoDB;
