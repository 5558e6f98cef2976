-- What people outside were last told of an appointment, and what they said. None of it is undone: whoever was told is told again.
ALTER TABLE appointment ADD COLUMN IF NOT EXISTS invites TINYINT(1) NOT NULL DEFAULT 0;
ALTER TABLE mail ADD COLUMN IF NOT EXISTS calendar_text TEXT NULL;
-- Its id is the appointment's, which it may outlive.
CREATE TABLE IF NOT EXISTS invited (
  id BINARY(16) PRIMARY KEY,
  owner_id BINARY(16) NOT NULL,
  sequence INT NOT NULL,
  asks_since INT NOT NULL,
  starts_at DATETIME(3) NOT NULL,
  ends_at DATETIME(3) NOT NULL,
  title VARCHAR(200) NOT NULL,
  place VARCHAR(160) NULL,
  CONSTRAINT invited_owner_known FOREIGN KEY (owner_id) REFERENCES app_user (id)
) ENGINE = InnoDB;
CREATE TABLE IF NOT EXISTS invitation (
  id BINARY(16) PRIMARY KEY,
  invited_id BINARY(16) NOT NULL,
  contact_id BINARY(16) NOT NULL,
  email VARCHAR(254) NOT NULL,
  name VARCHAR(200) NOT NULL,
  is_withdrawn TINYINT(1) NOT NULL DEFAULT 0,
  answer ENUM ('none', 'accepted', 'declined', 'tentative') NOT NULL DEFAULT 'none',
  answer_sequence INT NULL,
  answered_at DATETIME(3) NULL,
  counter_starts_at DATETIME(3) NULL,
  counter_ends_at DATETIME(3) NULL,
  words VARCHAR(500) NULL,
  UNIQUE KEY invitation_once (invited_id, email),
  CONSTRAINT invitation_invited_known FOREIGN KEY (invited_id) REFERENCES invited (id),
  CONSTRAINT invitation_contact_known FOREIGN KEY (contact_id) REFERENCES contact (id)
) ENGINE = InnoDB;
