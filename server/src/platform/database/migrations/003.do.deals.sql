CREATE TABLE pipeline (
  id BINARY(16) PRIMARY KEY,
  name VARCHAR(80) NOT NULL,
  position INT NOT NULL,
  version INT NOT NULL DEFAULT 1,
  UNIQUE KEY pipeline_name (name)
) ENGINE = InnoDB;

CREATE TABLE stage (
  id BINARY(16) PRIMARY KEY,
  pipeline_id BINARY(16) NOT NULL,
  name VARCHAR(80) NOT NULL,
  win_probability DECIMAL(5, 4) NOT NULL,
  patience_days INT NOT NULL,
  position INT NOT NULL,
  version INT NOT NULL DEFAULT 1,
  UNIQUE KEY stage_name (pipeline_id, name),
  CONSTRAINT stage_of_pipeline FOREIGN KEY (pipeline_id) REFERENCES pipeline (id)
) ENGINE = InnoDB;

CREATE TABLE deal (
  id BINARY(16) PRIMARY KEY,
  name VARCHAR(160) NOT NULL,
  status ENUM('open', 'won', 'lost', 'parked') NOT NULL DEFAULT 'open',
  company_id BINARY(16) NULL,
  contact_id BINARY(16) NULL,
  stage_id BINARY(16) NOT NULL,
  owner_id BINARY(16) NOT NULL,
  amount_minor BIGINT NOT NULL,
  currency CHAR(3) NOT NULL,
  -- The deal's own, which goes before the stage's.
  win_probability DECIMAL(5, 4) NULL,
  expected_close_on DATE NULL,
  stage_since DATETIME(3) NOT NULL,
  -- Last change of stage, amount or close date, or counting touch: where patience counts from.
  moved_at DATETIME(3) NOT NULL,
  last_touch_at DATETIME(3) NULL,
  last_touch_kind VARCHAR(10) NULL,
  next_step_on DATE NULL,
  next_step_channel VARCHAR(10) NULL,
  -- Since when no open task is planned; null while one is.
  loose_since DATETIME(3) NULL,
  closed_on DATE NULL,
  close_reason VARCHAR(300) NULL,
  wake_on DATE NULL,
  created_at DATETIME(3) NOT NULL,
  version INT NOT NULL DEFAULT 1,
  KEY deal_owner (owner_id, status, expected_close_on),
  KEY deal_status (status, expected_close_on),
  KEY deal_contact (contact_id, status),
  KEY deal_company (company_id, status),
  KEY deal_closed (owner_id, status, closed_on),
  CONSTRAINT deal_in_stage FOREIGN KEY (stage_id) REFERENCES stage (id)
) ENGINE = InnoDB;

CREATE TABLE agreement (
  id BINARY(16) PRIMARY KEY,
  name VARCHAR(160) NOT NULL,
  company_id BINARY(16) NOT NULL,
  contact_id BINARY(16) NULL,
  deal_id BINARY(16) NULL,
  owner_id BINARY(16) NOT NULL,
  starts_on DATE NOT NULL,
  term_months INT NOT NULL,
  value_minor BIGINT NOT NULL,
  currency CHAR(3) NOT NULL,
  notice_days INT NOT NULL,
  lead_days INT NOT NULL,
  renews_itself BOOLEAN NOT NULL,
  -- Dates of the running term, computed by the core when it is written.
  ends_on DATE NOT NULL,
  notice_deadline_on DATE NOT NULL,
  lead_on DATE NOT NULL,
  created_at DATETIME(3) NOT NULL,
  version INT NOT NULL DEFAULT 1,
  KEY agreement_owner (owner_id, notice_deadline_on),
  KEY agreement_deadline (notice_deadline_on, id),
  KEY agreement_company (company_id, ends_on),
  CONSTRAINT agreement_of_company FOREIGN KEY (company_id) REFERENCES company (id)
) ENGINE = InnoDB;
