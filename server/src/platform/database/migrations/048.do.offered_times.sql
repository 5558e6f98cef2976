-- Times that somebody outside was asked to choose among, and what they chose.
CREATE TABLE IF NOT EXISTS offered_times (
  id BINARY(16) PRIMARY KEY,
  owner_id BINARY(16) NOT NULL,
  contact_id BINARY(16) NOT NULL,
  deal_id BINARY(16) NULL,
  channel ENUM('meeting', 'visit') NOT NULL,
  title VARCHAR(200) NOT NULL,
  place VARCHAR(160) NULL,
  minutes INT NOT NULL,
  times LONGTEXT NOT NULL,
  chosen_at DATETIME(3) NULL,
  created_at DATETIME(3) NOT NULL,
  KEY offered_to (contact_id),
  CONSTRAINT offered_times_owner_known FOREIGN KEY (owner_id) REFERENCES app_user (id),
  CONSTRAINT offered_times_contact_known FOREIGN KEY (contact_id) REFERENCES contact (id) ON DELETE CASCADE,
  CONSTRAINT offered_times_deal_known FOREIGN KEY (deal_id) REFERENCES deal (id) ON DELETE SET NULL,
  CONSTRAINT offered_times_are_json CHECK (JSON_VALID(times)),
  CONSTRAINT offered_times_take_some CHECK (minutes BETWEEN 5 AND 1440)
) ENGINE = InnoDB;
