ALTER TABLE task
  ADD COLUMN made_by BINARY(16) NULL AFTER owner_id,
  -- An RFC 5545 rule and the day it counts from; the next one is made when this one is finished.
  ADD COLUMN repeats VARCHAR(200) NULL,
  ADD COLUMN repeats_from DATE NULL,
  ADD COLUMN remind_minutes INT NULL,
  ADD COLUMN remind_at DATETIME(3) NULL,
  ADD COLUMN bulk_id BINARY(16) NULL,
  ADD KEY task_state (state, due_on, id),
  ADD KEY task_finished (state, finished_at, id);

CREATE TABLE saved_view (
  id BINARY(16) PRIMARY KEY,
  user_id BINARY(16) NOT NULL,
  place ENUM('people', 'tasks') NOT NULL,
  name VARCHAR(60) NOT NULL,
  query VARCHAR(4000) NOT NULL,
  is_shared BOOLEAN NOT NULL DEFAULT FALSE,
  version INT NOT NULL DEFAULT 1,
  UNIQUE KEY view_name (user_id, place, name),
  KEY view_shared (place, is_shared, name)
) ENGINE = InnoDB;

-- The view each person lands on.
CREATE TABLE landing_view (
  user_id BINARY(16) NOT NULL,
  place ENUM('people', 'tasks') NOT NULL,
  view_id BINARY(16) NOT NULL,
  PRIMARY KEY (user_id, place),
  CONSTRAINT landing_on_view FOREIGN KEY (view_id) REFERENCES saved_view (id) ON DELETE CASCADE
) ENGINE = InnoDB;

-- A change to many contacts at once, carried out in parts in the background.
CREATE TABLE bulk (
  id BINARY(16) PRIMARY KEY,
  user_id BINARY(16) NOT NULL,
  words VARCHAR(200) NOT NULL,
  act JSON NOT NULL,
  state ENUM('running', 'done', 'undoing', 'undone') NOT NULL DEFAULT 'running',
  created_at DATETIME(3) NOT NULL,
  KEY bulk_user (user_id, created_at)
) ENGINE = InnoDB;

CREATE TABLE bulk_item (
  bulk_id BINARY(16) NOT NULL,
  contact_id BINARY(16) NOT NULL,
  position INT NOT NULL,
  state ENUM('waiting', 'changed', 'same', 'failed', 'undone', 'kept') NOT NULL DEFAULT 'waiting',
  reason VARCHAR(300) NULL,
  -- What it was before, for undo; null while nothing was changed.
  before_value JSON NULL,
  PRIMARY KEY (bulk_id, contact_id),
  KEY bulk_order (bulk_id, position),
  CONSTRAINT item_of_bulk FOREIGN KEY (bulk_id) REFERENCES bulk (id) ON DELETE CASCADE
) ENGINE = InnoDB;
