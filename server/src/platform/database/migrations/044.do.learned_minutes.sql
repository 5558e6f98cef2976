-- How long acts really take, by who does them and by channel, and with whom where that differs. Learned each night.
CREATE TABLE IF NOT EXISTS learned_minutes (
  user_id BINARY(16) NOT NULL,
  channel ENUM('call', 'email', 'text', 'meeting', 'visit', 'other') NOT NULL,
  -- Zeros where it is of everybody.
  contact_key BINARY(16) NOT NULL,
  contact_id BINARY(16) NULL,
  minutes INT NOT NULL,
  cases INT NOT NULL,
  PRIMARY KEY (user_id, channel, contact_key),
  CONSTRAINT learned_minutes_user_known FOREIGN KEY (user_id) REFERENCES app_user (id),
  CONSTRAINT learned_minutes_contact_known FOREIGN KEY (contact_id) REFERENCES contact (id) ON DELETE CASCADE
) ENGINE = InnoDB;
