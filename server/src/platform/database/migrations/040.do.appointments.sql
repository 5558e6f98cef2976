-- A meeting becomes an appointment: with whom, about which deal, the way there and back, and whether it took place. One that is about somebody
-- has a task, which carries its time; tasks to meet or visit at a time get theirs here.
CREATE TABLE IF NOT EXISTS appointment (
  id BINARY(16) PRIMARY KEY,
  owner_id BINARY(16) NOT NULL,
  task_id BINARY(16) NULL,
  channel VARCHAR(10) NULL,
  title VARCHAR(200) NOT NULL,
  starts_at DATETIME(3) NOT NULL,
  ends_at DATETIME(3) NOT NULL,
  place VARCHAR(160) NULL,
  travel_minutes INT NOT NULL DEFAULT 0,
  travel_after_minutes INT NOT NULL DEFAULT 0,
  note TEXT NULL,
  contact_id BINARY(16) NULL,
  deal_id BINARY(16) NULL,
  state ENUM ('planned', 'held', 'missed', 'called-off') NOT NULL DEFAULT 'planned',
  remind_minutes INT NULL,
  remind_at DATETIME(3) NULL,
  created_at DATETIME(3) NOT NULL,
  version INT NOT NULL DEFAULT 1,
  UNIQUE KEY appointment_of_task (task_id),
  KEY appointment_of_day (owner_id, starts_at),
  CONSTRAINT appointment_owner_known FOREIGN KEY (owner_id) REFERENCES app_user (id),
  CONSTRAINT appointment_task_known FOREIGN KEY (task_id) REFERENCES task (id),
  CONSTRAINT appointment_contact_known FOREIGN KEY (contact_id) REFERENCES contact (id),
  CONSTRAINT appointment_deal_known FOREIGN KEY (deal_id) REFERENCES deal (id),
  CONSTRAINT appointment_channel_known CHECK (channel IN ('meeting', 'visit')),
  CONSTRAINT appointment_ends_later CHECK (ends_at > starts_at),
  CONSTRAINT appointment_travel_range CHECK (travel_minutes BETWEEN 0 AND 1440 AND travel_after_minutes BETWEEN 0 AND 1440)
) ENGINE = InnoDB;
-- Who else comes: further people, and colleagues.
CREATE TABLE IF NOT EXISTS appointment_guest (
  id BINARY(16) PRIMARY KEY,
  appointment_id BINARY(16) NOT NULL,
  contact_id BINARY(16) NULL,
  user_id BINARY(16) NULL,
  UNIQUE KEY guest_person_once (appointment_id, contact_id),
  UNIQUE KEY guest_colleague_once (appointment_id, user_id),
  CONSTRAINT appointment_guest_appointment_known FOREIGN KEY (appointment_id) REFERENCES appointment (id),
  CONSTRAINT appointment_guest_contact_known FOREIGN KEY (contact_id) REFERENCES contact (id),
  CONSTRAINT appointment_guest_user_known FOREIGN KEY (user_id) REFERENCES app_user (id),
  CONSTRAINT appointment_guest_is_one CHECK ((contact_id IS NULL) <> (user_id IS NULL))
) ENGINE = InnoDB;
INSERT IGNORE INTO appointment (id, owner_id, title, starts_at, ends_at, place, travel_minutes, contact_id, created_at, version)
  SELECT id, user_id, title, starts_at, ends_at, place, travel_minutes, contact_id, created_at, version FROM meeting;
INSERT IGNORE INTO appointment (id, owner_id, task_id, channel, title, starts_at, ends_at, contact_id, deal_id, created_at)
  SELECT id, owner_id, id, channel, purpose, promised_at, promised_at + INTERVAL minutes MINUTE, contact_id, deal_id, created_at
    FROM task WHERE state = 'open' AND channel IN ('meeting', 'visit') AND promised_at IS NOT NULL;
-- Changes of the last 30 days can still be undone.
UPDATE change_row
   SET table_name = 'appointment',
       refs = REPLACE(refs, '"user_id":', '"owner_id":'),
       was = REPLACE(was, '"user_id":', '"owner_id":'),
       became = REPLACE(became, '"user_id":', '"owner_id":')
 WHERE table_name = 'meeting';
DROP TABLE IF EXISTS meeting;
