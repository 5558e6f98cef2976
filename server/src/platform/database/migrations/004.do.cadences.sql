CREATE TABLE cadence (
  id BINARY(16) PRIMARY KEY,
  name VARCHAR(80) NOT NULL,
  current_version_id BINARY(16) NOT NULL,
  created_at DATETIME(3) NOT NULL,
  version INT NOT NULL DEFAULT 1,
  UNIQUE KEY cadence_name (name)
) ENGINE = InnoDB;

-- Written once: a run keeps the version it started on.
CREATE TABLE cadence_version (
  id BINARY(16) PRIMARY KEY,
  cadence_id BINARY(16) NOT NULL,
  number INT NOT NULL,
  definition JSON NOT NULL,
  created_at DATETIME(3) NOT NULL,
  UNIQUE KEY cadence_version_number (cadence_id, number),
  CONSTRAINT version_of_cadence FOREIGN KEY (cadence_id) REFERENCES cadence (id)
) ENGINE = InnoDB;

CREATE TABLE run (
  id BINARY(16) PRIMARY KEY,
  cadence_id BINARY(16) NOT NULL,
  cadence_version_id BINARY(16) NOT NULL,
  contact_id BINARY(16) NOT NULL,
  deal_id BINARY(16) NULL,
  owner_id BINARY(16) NOT NULL,
  status ENUM('running', 'paused', 'finished', 'stopped') NOT NULL,
  step INT NOT NULL,
  next_on DATE NULL,
  paused_until DATE NULL,
  exit_reason VARCHAR(300) NULL,
  -- Ids of the events that were applied, so that the same event twice changes nothing.
  handled JSON NOT NULL,
  answered BOOLEAN NOT NULL DEFAULT FALSE,
  started_at DATETIME(3) NOT NULL,
  version INT NOT NULL DEFAULT 1,
  -- A person can be on a cadence once at a time: the unique key below is the guard.
  active_contact_id BINARY(16) AS (IF(status IN ('running', 'paused'), contact_id, NULL)) PERSISTENT,
  UNIQUE KEY run_once (active_contact_id, cadence_id),
  KEY run_contact (contact_id, started_at),
  KEY run_cadence (cadence_id, status),
  KEY run_paused (status, paused_until),
  CONSTRAINT run_on_version FOREIGN KEY (cadence_version_id) REFERENCES cadence_version (id),
  CONSTRAINT run_of_contact FOREIGN KEY (contact_id) REFERENCES contact (id)
) ENGINE = InnoDB;
