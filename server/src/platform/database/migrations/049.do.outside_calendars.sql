-- Calendars elsewhere that somebody reads here, and those that theirs is kept in step with.
CREATE TABLE IF NOT EXISTS outside_calendar (
  id BINARY(16) PRIMARY KEY,
  user_id BINARY(16) NOT NULL,
  name VARCHAR(120) NOT NULL,
  -- Read at an address (iCalendar), or kept in step both ways (CalDAV).
  kind ENUM('address', 'both-ways') NOT NULL,
  address VARCHAR(1500) NOT NULL,
  login VARCHAR(200) NULL,
  is_busy TINYINT(1) NOT NULL DEFAULT 1,
  removed_at DATETIME(3) NULL,
  created_at DATETIME(3) NOT NULL,
  version INT NOT NULL DEFAULT 1,
  -- When what is in it was written last: whatever rests on it is computed again.
  changed_at DATETIME(3) NOT NULL,
  -- What the server said last, by which it knows whether anything changed.
  etag VARCHAR(500) NULL,
  sync_token VARCHAR(1500) NULL,
  whole_at DATETIME(3) NULL,
  read_at DATETIME(3) NULL,
  failing_since DATETIME(3) NULL,
  failure VARCHAR(500) NULL,
  is_cut TINYINT(1) NOT NULL DEFAULT 0,
  KEY outside_calendar_of (user_id),
  CONSTRAINT outside_calendar_user_known FOREIGN KEY (user_id) REFERENCES app_user (id)
) ENGINE = InnoDB;

-- Its password, sealed.
CREATE TABLE IF NOT EXISTS outside_login (
  calendar_id BINARY(16) PRIMARY KEY,
  password VARBINARY(1000) NOT NULL,
  CONSTRAINT outside_login_calendar_known FOREIGN KEY (calendar_id) REFERENCES outside_calendar (id) ON DELETE CASCADE
) ENGINE = InnoDB;

-- What takes place by it, once each time, in the months that are looked at.
CREATE TABLE IF NOT EXISTS outside_event (
  id BINARY(16) PRIMARY KEY,
  calendar_id BINARY(16) NOT NULL,
  user_id BINARY(16) NOT NULL,
  href VARCHAR(500) NOT NULL DEFAULT '',
  title VARCHAR(300) NOT NULL,
  place VARCHAR(300) NULL,
  starts_at DATETIME(3) NOT NULL,
  ends_at DATETIME(3) NOT NULL,
  is_all_day TINYINT(1) NOT NULL,
  is_busy TINYINT(1) NOT NULL,
  KEY outside_event_of_day (user_id, starts_at),
  KEY outside_event_of (calendar_id, href(100)),
  CONSTRAINT outside_event_calendar_known FOREIGN KEY (calendar_id) REFERENCES outside_calendar (id) ON DELETE CASCADE,
  CONSTRAINT outside_event_user_known FOREIGN KEY (user_id) REFERENCES app_user (id),
  CONSTRAINT outside_event_ends_after CHECK (ends_at >= starts_at)
) ENGINE = InnoDB;

-- An appointment of ours that lies in such a calendar: what both sides knew last, and what is to be asked where they differ.
CREATE TABLE IF NOT EXISTS outside_copy (
  appointment_id BINARY(16) NOT NULL,
  calendar_id BINARY(16) NOT NULL,
  href VARCHAR(500) NOT NULL,
  etag VARCHAR(500) NULL,
  title VARCHAR(300) NOT NULL,
  place VARCHAR(300) NULL,
  starts_at DATETIME(3) NOT NULL,
  ends_at DATETIME(3) NOT NULL,
  asked ENUM('no', 'changed', 'gone') NOT NULL DEFAULT 'no',
  their_title VARCHAR(300) NULL,
  their_place VARCHAR(300) NULL,
  their_starts_at DATETIME(3) NULL,
  their_ends_at DATETIME(3) NULL,
  PRIMARY KEY (calendar_id, appointment_id),
  KEY outside_copy_of (appointment_id),
  CONSTRAINT outside_copy_calendar_known FOREIGN KEY (calendar_id) REFERENCES outside_calendar (id) ON DELETE CASCADE
) ENGINE = InnoDB;
