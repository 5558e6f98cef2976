-- Days on which somebody is away, both included, and who works their Round meanwhile.
CREATE TABLE IF NOT EXISTS absence (
  id BINARY(16) PRIMARY KEY,
  user_id BINARY(16) NOT NULL,
  from_on DATE NOT NULL,
  to_on DATE NOT NULL,
  stand_in_id BINARY(16) NULL,
  created_at DATETIME(3) NOT NULL,
  KEY absence_of (user_id, from_on),
  KEY absence_stand_in (stand_in_id, to_on),
  CONSTRAINT absence_user_known FOREIGN KEY (user_id) REFERENCES app_user (id),
  CONSTRAINT absence_stand_in_known FOREIGN KEY (stand_in_id) REFERENCES app_user (id),
  CONSTRAINT absence_ends_after CHECK (to_on >= from_on),
  CONSTRAINT absence_by_another CHECK (stand_in_id IS NULL OR stand_in_id <> user_id)
) ENGINE = InnoDB;
