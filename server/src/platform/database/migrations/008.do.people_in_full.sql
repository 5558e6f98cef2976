ALTER TABLE contact
  ADD COLUMN category ENUM('person', 'organisation') NOT NULL DEFAULT 'person' AFTER id,
  ADD COLUMN email_label VARCHAR(40) NULL AFTER email,
  ADD COLUMN phone_label VARCHAR(40) NULL AFTER phone,
  ADD COLUMN warmth ENUM('hot', 'warm', 'cool') NULL AFTER source,
  ADD COLUMN site_id BINARY(16) NULL AFTER company_id,
  -- Whether a person put the zone right by hand; one that was derived follows the site or the number.
  ADD COLUMN zone_by_hand BOOLEAN NOT NULL DEFAULT FALSE AFTER zone,
  -- How a contact is called: an organisation that is written to without a name goes by its company's.
  ADD COLUMN display_name VARCHAR(242)
    AS (COALESCE(NULLIF(TRIM(CONCAT(given_name, ' ', family_name)), ''), company_name, '')) PERSISTENT,
  ADD KEY contact_source (source, sort_name, id),
  ADD KEY contact_country (country, sort_name, id),
  ADD KEY contact_created (created_at, id);

ALTER TABLE company
  ADD COLUMN about TEXT NOT NULL DEFAULT '' AFTER zone;

-- Places of a company beside its main one, which stands in the company's row.
CREATE TABLE site (
  id BINARY(16) PRIMARY KEY,
  company_id BINARY(16) NOT NULL,
  name VARCHAR(80) NOT NULL,
  street VARCHAR(160) NULL,
  postcode VARCHAR(20) NULL,
  city VARCHAR(160) NULL,
  country CHAR(2) NOT NULL,
  zone VARCHAR(60) NOT NULL,
  position INT NOT NULL,
  KEY site_company (company_id, position, id),
  CONSTRAINT site_of_company FOREIGN KEY (company_id) REFERENCES company (id) ON DELETE CASCADE
) ENGINE = InnoDB;

-- Addresses, numbers and links beside the preferred ones, which stand in the contact's row.
CREATE TABLE contact_point (
  id BINARY(16) PRIMARY KEY,
  contact_id BINARY(16) NOT NULL,
  kind ENUM('email', 'phone', 'link') NOT NULL,
  label VARCHAR(40) NULL,
  value VARCHAR(254) NOT NULL,
  position INT NOT NULL,
  KEY point_contact (contact_id, position, id),
  KEY point_value (value, kind),
  CONSTRAINT point_of_contact FOREIGN KEY (contact_id) REFERENCES contact (id) ON DELETE CASCADE
) ENGINE = InnoDB;

-- Companies a person belongs to beside the main one.
CREATE TABLE contact_company (
  contact_id BINARY(16) NOT NULL,
  company_id BINARY(16) NOT NULL,
  role VARCHAR(120) NULL,
  PRIMARY KEY (contact_id, company_id),
  KEY link_company (company_id, contact_id),
  CONSTRAINT link_of_contact FOREIGN KEY (contact_id) REFERENCES contact (id) ON DELETE CASCADE,
  CONSTRAINT link_to_company FOREIGN KEY (company_id) REFERENCES company (id)
) ENGINE = InnoDB;

CREATE TABLE contact_tag (
  contact_id BINARY(16) NOT NULL,
  tag VARCHAR(40) NOT NULL,
  PRIMARY KEY (contact_id, tag),
  KEY tag_contact (tag, contact_id),
  CONSTRAINT tag_of_contact FOREIGN KEY (contact_id) REFERENCES contact (id) ON DELETE CASCADE
) ENGINE = InnoDB;

CREATE TABLE custom_field (
  id BINARY(16) PRIMARY KEY,
  subject ENUM('contact', 'company', 'deal') NOT NULL,
  name VARCHAR(60) NOT NULL,
  type ENUM('text', 'number', 'money', 'date', 'choice', 'yes-no', 'link', 'person') NOT NULL,
  choices JSON NOT NULL,
  position INT NOT NULL,
  retired_at DATETIME(3) NULL,
  version INT NOT NULL DEFAULT 1,
  UNIQUE KEY field_name (subject, name)
) ENGINE = InnoDB;

-- One typed column holds the value: text for text, choice and link, number for number, money (minor units) and yes-no.
CREATE TABLE custom_value (
  record_id BINARY(16) NOT NULL,
  field_id BINARY(16) NOT NULL,
  text_value VARCHAR(500) NULL,
  number_value DECIMAL(20, 4) NULL,
  date_value DATE NULL,
  person_id BINARY(16) NULL,
  PRIMARY KEY (record_id, field_id),
  KEY value_text (field_id, text_value(80)),
  KEY value_number (field_id, number_value),
  KEY value_date (field_id, date_value),
  CONSTRAINT value_of_field FOREIGN KEY (field_id) REFERENCES custom_field (id)
) ENGINE = InnoDB;

-- Two records a person has looked at and found to be two.
CREATE TABLE not_duplicate (
  one_id BINARY(16) NOT NULL,
  other_id BINARY(16) NOT NULL,
  user_id BINARY(16) NOT NULL,
  at DATETIME(3) NOT NULL,
  PRIMARY KEY (one_id, other_id)
) ENGINE = InnoDB;

-- A merge keeps all it changed, so that it can be undone; the contact that went is found under the one that stayed.
CREATE TABLE contact_merge (
  id BINARY(16) PRIMARY KEY,
  kept_id BINARY(16) NOT NULL,
  gone_id BINARY(16) NOT NULL,
  user_id BINARY(16) NOT NULL,
  before_state JSON NOT NULL,
  merged_at DATETIME(3) NOT NULL,
  undone_at DATETIME(3) NULL,
  KEY merge_gone (gone_id, merged_at),
  KEY merge_kept (kept_id, merged_at)
) ENGINE = InnoDB;

ALTER TABLE import_batch
  -- Whether rows that are likely somebody known are written all the same.
  ADD COLUMN with_likely BOOLEAN NOT NULL DEFAULT FALSE;

ALTER TABLE deal ADD FULLTEXT KEY deal_search (name);
