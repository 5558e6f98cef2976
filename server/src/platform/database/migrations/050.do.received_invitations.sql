-- Invitations that somebody outside sent: what they say now, and what was answered.
CREATE TABLE IF NOT EXISTS received_invitation (
  id BINARY(16) PRIMARY KEY,
  user_id BINARY(16) NOT NULL,
  uid VARCHAR(300) NOT NULL,
  -- The mail that told of it last.
  mail_id BINARY(16) NOT NULL,
  sequence INT NOT NULL,
  stamped_at DATETIME(3) NOT NULL,
  title VARCHAR(300) NOT NULL,
  place VARCHAR(300) NULL,
  starts_at DATETIME(3) NOT NULL,
  ends_at DATETIME(3) NOT NULL,
  repeats TINYINT(1) NOT NULL,
  organizer_name VARCHAR(200) NOT NULL,
  organizer_email VARCHAR(254) NOT NULL,
  is_withdrawn TINYINT(1) NOT NULL DEFAULT 0,
  answer ENUM('none', 'accepted', 'declined', 'tentative') NOT NULL DEFAULT 'none',
  -- It was answered, and other times were proposed since.
  is_moved TINYINT(1) NOT NULL DEFAULT 0,
  appointment_id BINARY(16) NULL,
  version INT NOT NULL DEFAULT 1,
  UNIQUE KEY received_invitation_of (user_id, uid),
  KEY received_invitation_mail (mail_id),
  CONSTRAINT received_invitation_user_known FOREIGN KEY (user_id) REFERENCES app_user (id),
  CONSTRAINT received_invitation_mail_known FOREIGN KEY (mail_id) REFERENCES mail (id) ON DELETE CASCADE,
  CONSTRAINT received_invitation_appointment_known FOREIGN KEY (appointment_id) REFERENCES appointment (id) ON DELETE SET NULL
) ENGINE = InnoDB;
