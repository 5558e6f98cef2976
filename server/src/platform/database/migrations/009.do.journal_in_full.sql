ALTER TABLE journal_entry
  ADD COLUMN is_rich BOOLEAN NOT NULL DEFAULT FALSE AFTER body,
  -- What was done when a meeting or visit took place: the ticked lines of its checklist.
  ADD COLUMN done JSON NULL,
  ADD COLUMN edited_at DATETIME(3) NULL,
  ADD COLUMN removed_by BINARY(16) NULL,
  ADD COLUMN version INT NOT NULL DEFAULT 1,
  ADD FULLTEXT KEY journal_search (body);

-- People an entry belongs to beside the first; the moment is copied so that one index orders a person's journal.
CREATE TABLE entry_person (
  entry_id BINARY(16) NOT NULL,
  contact_id BINARY(16) NOT NULL,
  at DATETIME(3) NOT NULL,
  PRIMARY KEY (entry_id, contact_id),
  KEY entry_person_time (contact_id, at, entry_id),
  CONSTRAINT person_of_entry FOREIGN KEY (entry_id) REFERENCES journal_entry (id) ON DELETE CASCADE
) ENGINE = InnoDB;

-- What an entry said before each edit.
CREATE TABLE entry_before (
  entry_id BINARY(16) NOT NULL,
  number INT NOT NULL,
  body TEXT NOT NULL,
  at DATETIME(3) NOT NULL,
  edited_by BINARY(16) NOT NULL,
  edited_at DATETIME(3) NOT NULL,
  PRIMARY KEY (entry_id, number),
  CONSTRAINT before_of_entry FOREIGN KEY (entry_id) REFERENCES journal_entry (id) ON DELETE CASCADE
) ENGINE = InnoDB;

CREATE TABLE entry_comment (
  id BINARY(16) PRIMARY KEY,
  entry_id BINARY(16) NOT NULL,
  user_id BINARY(16) NOT NULL,
  body VARCHAR(2000) NOT NULL,
  created_at DATETIME(3) NOT NULL,
  KEY comment_entry (entry_id, created_at, id),
  CONSTRAINT comment_of_entry FOREIGN KEY (entry_id) REFERENCES journal_entry (id) ON DELETE CASCADE
) ENGINE = InnoDB;

CREATE TABLE notification (
  id BINARY(16) PRIMARY KEY,
  user_id BINARY(16) NOT NULL,
  words VARCHAR(300) NOT NULL,
  -- Where a click leads: a place of the application, `/people/<id>`.
  path VARCHAR(120) NOT NULL,
  created_at DATETIME(3) NOT NULL,
  read_at DATETIME(3) NULL,
  KEY notification_user (user_id, created_at, id),
  KEY notification_unread (user_id, read_at)
) ENGINE = InnoDB;

-- The bytes lie in the database, in parts, so that one backup holds everything and no statement grows too large.
CREATE TABLE stored_file (
  id BINARY(16) PRIMARY KEY,
  name VARCHAR(200) NOT NULL,
  media_type VARCHAR(100) NOT NULL,
  size INT NOT NULL,
  contact_id BINARY(16) NULL,
  company_id BINARY(16) NULL,
  deal_id BINARY(16) NULL,
  user_id BINARY(16) NOT NULL,
  is_complete BOOLEAN NOT NULL DEFAULT FALSE,
  created_at DATETIME(3) NOT NULL,
  removed_at DATETIME(3) NULL,
  KEY file_contact (contact_id, created_at),
  KEY file_company (company_id, created_at),
  KEY file_deal (deal_id, created_at)
) ENGINE = InnoDB;

CREATE TABLE file_part (
  file_id BINARY(16) NOT NULL,
  number INT NOT NULL,
  bytes MEDIUMBLOB NOT NULL,
  PRIMARY KEY (file_id, number),
  CONSTRAINT part_of_file FOREIGN KEY (file_id) REFERENCES stored_file (id) ON DELETE CASCADE
) ENGINE = InnoDB;
