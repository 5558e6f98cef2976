-- What a person, or all whom a manager leads, is to win in a month; it holds until another month has one.
CREATE TABLE IF NOT EXISTS quota (
  user_id BINARY(16) NOT NULL,
  is_team TINYINT(1) NOT NULL,
  from_month DATE NOT NULL,
  -- None: no quota from then on.
  amount_minor BIGINT NULL,
  PRIMARY KEY (user_id, is_team, from_month),
  CONSTRAINT quota_user_known FOREIGN KEY (user_id) REFERENCES app_user (id),
  CONSTRAINT quota_amount_minor_range CHECK (amount_minor >= 0)
) ENGINE = InnoDB;

INSERT IGNORE INTO quota (user_id, is_team, from_month, amount_minor)
SELECT id, 0, '2000-01-01', monthly_quota_minor FROM app_user WHERE monthly_quota_minor IS NOT NULL;

-- The cards of somebody's Home, or of a role's for those who arranged none.
CREATE TABLE IF NOT EXISTS home (
  id BINARY(16) PRIMARY KEY,
  user_id BINARY(16) NULL,
  for_role ENUM('rep', 'manager', 'admin') NULL,
  cards JSON NOT NULL,
  version INT NOT NULL DEFAULT 1,
  UNIQUE KEY home_of_user (user_id),
  UNIQUE KEY home_of_role (for_role),
  CONSTRAINT home_user_known FOREIGN KEY (user_id) REFERENCES app_user (id),
  CONSTRAINT home_of_one CHECK ((user_id IS NULL) <> (for_role IS NULL))
) ENGINE = InnoDB;

CREATE TABLE IF NOT EXISTS entry_thanks (
  entry_id BINARY(16) NOT NULL,
  user_id BINARY(16) NOT NULL,
  created_at DATETIME(3) NOT NULL,
  PRIMARY KEY (entry_id, user_id),
  CONSTRAINT thanks_entry_known FOREIGN KEY (entry_id) REFERENCES journal_entry (id),
  CONSTRAINT thanks_user_known FOREIGN KEY (user_id) REFERENCES app_user (id)
) ENGINE = InnoDB;

-- What colleagues say to each other about a record; no entry of the customer's journal.
CREATE TABLE IF NOT EXISTS talk (
  id BINARY(16) PRIMARY KEY,
  contact_id BINARY(16) NULL,
  company_id BINARY(16) NULL,
  deal_id BINARY(16) NULL,
  lead_id BINARY(16) NULL,
  agreement_id BINARY(16) NULL,
  user_id BINARY(16) NOT NULL,
  body VARCHAR(2000) NOT NULL,
  created_at DATETIME(3) NOT NULL,
  KEY talk_contact (contact_id, created_at),
  KEY talk_company (company_id, created_at),
  KEY talk_deal (deal_id, created_at),
  KEY talk_lead (lead_id, created_at),
  KEY talk_agreement (agreement_id, created_at),
  CONSTRAINT talk_contact_known FOREIGN KEY (contact_id) REFERENCES contact (id),
  CONSTRAINT talk_company_known FOREIGN KEY (company_id) REFERENCES company (id),
  CONSTRAINT talk_deal_known FOREIGN KEY (deal_id) REFERENCES deal (id),
  CONSTRAINT talk_lead_known FOREIGN KEY (lead_id) REFERENCES sales_lead (id),
  CONSTRAINT talk_agreement_known FOREIGN KEY (agreement_id) REFERENCES agreement (id),
  CONSTRAINT talk_user_known FOREIGN KEY (user_id) REFERENCES app_user (id)
) ENGINE = InnoDB;

-- What everybody logged, newest first, and counted over a period.
ALTER TABLE journal_entry ADD KEY IF NOT EXISTS journal_time (at, id);
