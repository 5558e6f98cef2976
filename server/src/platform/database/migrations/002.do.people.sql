CREATE TABLE standing (
  id BINARY(16) PRIMARY KEY,
  name VARCHAR(60) NOT NULL,
  standing_group ENUM('prospect', 'customer', 'former') NOT NULL,
  check_in_days INT NULL,
  position INT NOT NULL,
  is_default BOOLEAN NOT NULL DEFAULT FALSE,
  version INT NOT NULL DEFAULT 1,
  UNIQUE KEY standing_name (name)
) ENGINE = InnoDB;

CREATE TABLE company (
  id BINARY(16) PRIMARY KEY,
  name VARCHAR(160) NOT NULL,
  -- The name without case, accents and legal form: what tells whether two firms are one.
  name_key VARCHAR(160) NOT NULL,
  trade VARCHAR(80) NULL,
  website VARCHAR(200) NULL,
  street VARCHAR(160) NULL,
  postcode VARCHAR(20) NULL,
  city VARCHAR(160) NULL,
  country CHAR(2) NOT NULL,
  zone VARCHAR(60) NOT NULL,
  owner_id BINARY(16) NULL,
  created_at DATETIME(3) NOT NULL,
  version INT NOT NULL DEFAULT 1,
  UNIQUE KEY company_name_key (name_key, country),
  KEY company_name (name, id),
  FULLTEXT KEY company_search (name, city)
) ENGINE = InnoDB;

CREATE TABLE contact (
  id BINARY(16) PRIMARY KEY,
  given_name VARCHAR(80) NOT NULL,
  family_name VARCHAR(160) NOT NULL,
  -- Family name first, for sorting.
  sort_name VARCHAR(242) NOT NULL,
  job_title VARCHAR(160) NULL,
  company_id BINARY(16) NULL,
  -- Copied from the company in the same transaction, so that lists sort and search without a join.
  company_name VARCHAR(160) NULL,
  email VARCHAR(254) NULL,
  phone VARCHAR(20) NULL,
  phone_unusable BOOLEAN NOT NULL DEFAULT FALSE,
  email_unusable BOOLEAN NOT NULL DEFAULT FALSE,
  country CHAR(2) NOT NULL,
  zone VARCHAR(60) NOT NULL,
  standing_id BINARY(16) NOT NULL,
  standing_set_at DATETIME(3) NOT NULL,
  check_in_days INT NULL,
  owner_id BINARY(16) NULL,
  source VARCHAR(160) NULL,
  about TEXT NOT NULL DEFAULT '',
  import_id BINARY(16) NULL,
  -- Touch facts, derived from the journal in the transaction that writes it.
  last_touch_at DATETIME(3) NULL,
  last_touch_kind VARCHAR(10) NULL,
  last_touch_counts ENUM('conversation', 'attempt', 'none') NULL,
  last_conversation_at DATETIME(3) NULL,
  waiting_since DATETIME(3) NULL,
  next_touch_due DATE NULL,
  -- Earliest open task, kept with the tasks.
  next_step_on DATE NULL,
  next_step_channel VARCHAR(10) NULL,
  -- Nobody without a day comes before somebody with one when a list is sorted by it.
  check_in_sort DATE AS (COALESCE(next_touch_due, '9999-12-31')) PERSISTENT,
  next_step_sort DATE AS (COALESCE(next_step_on, '9999-12-31')) PERSISTENT,
  search_text VARCHAR(800) NOT NULL,
  created_at DATETIME(3) NOT NULL,
  version INT NOT NULL DEFAULT 1,
  KEY contact_sort_name (sort_name, id),
  KEY contact_company_name (company_name, sort_name, id),
  KEY contact_last_touch (last_touch_at, id),
  KEY contact_next_step (next_step_sort, id),
  KEY contact_check_in (check_in_sort, id),
  KEY contact_owner_due (owner_id, next_touch_due),
  KEY contact_owner_waiting (owner_id, waiting_since),
  KEY contact_standing (standing_id, owner_id, next_touch_due),
  KEY contact_company (company_id, id),
  KEY contact_email (email),
  KEY contact_phone (phone),
  KEY contact_import (import_id, id),
  FULLTEXT KEY contact_search (search_text),
  CONSTRAINT contact_of_company FOREIGN KEY (company_id) REFERENCES company (id),
  CONSTRAINT contact_has_standing FOREIGN KEY (standing_id) REFERENCES standing (id)
) ENGINE = InnoDB;

CREATE TABLE do_not_contact (
  contact_id BINARY(16) NOT NULL,
  channel VARCHAR(10) NOT NULL,
  since DATETIME(3) NOT NULL,
  origin VARCHAR(160) NOT NULL,
  PRIMARY KEY (contact_id, channel),
  CONSTRAINT do_not_contact_person FOREIGN KEY (contact_id) REFERENCES contact (id) ON DELETE CASCADE
) ENGINE = InnoDB;

-- Tries and answers by channel, derived from the journal like the touch facts.
CREATE TABLE channel_fact (
  contact_id BINARY(16) NOT NULL,
  channel VARCHAR(10) NOT NULL,
  tries_since_conversation INT NOT NULL,
  tried INT NOT NULL,
  answered INT NOT NULL,
  PRIMARY KEY (contact_id, channel),
  CONSTRAINT channel_fact_person FOREIGN KEY (contact_id) REFERENCES contact (id) ON DELETE CASCADE
) ENGINE = InnoDB;
