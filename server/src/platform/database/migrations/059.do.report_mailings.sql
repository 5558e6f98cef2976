-- Reports are saved under a name as lists are.
ALTER TABLE saved_view MODIFY place ENUM('people', 'companies', 'tasks', 'deals', 'leads', 'agreements', 'mail', 'numbers') NOT NULL;
ALTER TABLE landing_view MODIFY place ENUM('people', 'companies', 'tasks', 'deals', 'leads', 'agreements', 'mail', 'numbers') NOT NULL;

-- A report that is sent each Monday, in the name of whoever set it up.
CREATE TABLE IF NOT EXISTS report_mailing (
  id BINARY(16) PRIMARY KEY,
  user_id BINARY(16) NOT NULL,
  name VARCHAR(120) NOT NULL,
  -- The question, as it was asked.
  asked JSON NOT NULL,
  created_at DATETIME(3) NOT NULL,
  version INT NOT NULL DEFAULT 1,
  KEY report_mailing_user (user_id),
  CONSTRAINT report_mailing_user_known FOREIGN KEY (user_id) REFERENCES app_user (id)
) ENGINE = InnoDB;

CREATE TABLE IF NOT EXISTS report_mailing_to (
  mailing_id BINARY(16) NOT NULL,
  user_id BINARY(16) NOT NULL,
  PRIMARY KEY (mailing_id, user_id),
  KEY report_mailing_to_user (user_id),
  CONSTRAINT report_mailing_to_known FOREIGN KEY (mailing_id) REFERENCES report_mailing (id),
  CONSTRAINT report_mailing_to_user_known FOREIGN KEY (user_id) REFERENCES app_user (id)
) ENGINE = InnoDB;
