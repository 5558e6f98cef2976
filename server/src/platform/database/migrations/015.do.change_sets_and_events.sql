-- One unit of work: who changed what in one go. Its id comes from the browser when a person asked for it, so that the same request
-- made twice meets its own key; `result` is what the first one returned.
CREATE TABLE IF NOT EXISTS change_set (
  id BINARY(16) PRIMARY KEY,
  -- The change this one is a part of, when it is carried out in parts.
  parent_id BINARY(16) NULL,
  act VARCHAR(60) NOT NULL,
  words VARCHAR(300) NOT NULL DEFAULT '',
  user_id BINARY(16) NULL,
  at DATETIME(3) NOT NULL,
  request_hash BINARY(32) NULL,
  result LONGTEXT NULL CHECK (json_valid(result)),
  -- The change that this one takes back, and the one by which this one was taken back.
  undoes_id BINARY(16) NULL,
  undone_by_id BINARY(16) NULL,
  KEY change_set_at (at, id),
  KEY change_set_of_user (user_id, at),
  KEY change_set_part (parent_id, at),
  CONSTRAINT change_set_user_known FOREIGN KEY (user_id) REFERENCES app_user (id)
) ENGINE = InnoDB;

-- Written by triggers alone: each row that a unit of work wrote, as it was and as it became.
CREATE TABLE IF NOT EXISTS change_row (
  set_id BINARY(16) NOT NULL,
  position INT NOT NULL,
  table_name VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  -- The primary key, as JSON in the order of its columns; bytes in hex.
  row_key VARCHAR(200) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
  op ENUM('insert', 'update', 'delete') NOT NULL,
  -- The ids it refers to, by column.
  refs TEXT NOT NULL,
  -- The columns that changed; of a deleted row all.
  was MEDIUMTEXT NULL,
  became MEDIUMTEXT NULL,
  PRIMARY KEY (set_id, position),
  KEY change_row_of (table_name, row_key, set_id),
  CONSTRAINT row_of_change_set FOREIGN KEY (set_id) REFERENCES change_set (id)
) ENGINE = InnoDB;

-- What happened, for good: the live stream, the history of a record and notifications read it. Written last in its transaction, with the
-- database's clock, whichever server wrote.
CREATE TABLE IF NOT EXISTS event (
  id BINARY(16) PRIMARY KEY,
  at DATETIME(3) NOT NULL DEFAULT NOW(3),
  kind VARCHAR(40) NOT NULL,
  topic VARCHAR(20) NOT NULL,
  record_id BINARY(16) NOT NULL,
  user_id BINARY(16) NULL,
  set_id BINARY(16) NOT NULL,
  -- What it came of: the act that was asked for.
  cause VARCHAR(60) NOT NULL,
  -- Whose records it concerns, as ids in JSON: who must hear of it.
  owners TEXT NOT NULL,
  data TEXT NOT NULL,
  KEY event_order (at, id),
  KEY event_of_record (record_id, at, id)
) ENGINE = InnoDB;

DROP TABLE IF EXISTS change_notice;
