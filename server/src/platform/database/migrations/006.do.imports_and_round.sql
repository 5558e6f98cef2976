CREATE TABLE import_batch (
  id BINARY(16) PRIMARY KEY,
  user_id BINARY(16) NOT NULL,
  file_name VARCHAR(200) NOT NULL,
  type ENUM('csv', 'vcard') NOT NULL,
  encoding VARCHAR(40) NOT NULL,
  content LONGBLOB NOT NULL,
  content_hash BINARY(32) NOT NULL,
  fields JSON NOT NULL,
  state ENUM('judged', 'applying', 'done') NOT NULL DEFAULT 'judged',
  created_at DATETIME(3) NOT NULL,
  applied_at DATETIME(3) NULL,
  version INT NOT NULL DEFAULT 1,
  KEY import_same_file (content_hash, state)
) ENGINE = InnoDB;

-- A pinned row of one day's Round.
CREATE TABLE round_place (
  user_id BINARY(16) NOT NULL,
  on_date DATE NOT NULL,
  row_key VARCHAR(80) NOT NULL,
  PRIMARY KEY (user_id, on_date, row_key)
) ENGINE = InnoDB;

-- What each day taught about the price of a minute, in minor units a minute.
CREATE TABLE round_day (
  user_id BINARY(16) NOT NULL,
  on_date DATE NOT NULL,
  best_below_per_minute DOUBLE NOT NULL,
  PRIMARY KEY (user_id, on_date)
) ENGINE = InnoDB;
