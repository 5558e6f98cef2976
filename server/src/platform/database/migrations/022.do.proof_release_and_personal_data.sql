-- What is known of whom a mail is from: the checks as they were made when it arrived, and what follows from them.
ALTER TABLE mail_arrival
  ADD COLUMN IF NOT EXISTS envelope_to VARCHAR(254) NULL AFTER envelope_from,
  ADD COLUMN IF NOT EXISTS checks JSON NULL AFTER envelope_to;
ALTER TABLE mail
  ADD COLUMN IF NOT EXISTS proof ENUM('proven', 'unproven', 'contradicted') NULL AFTER kind,
  ADD COLUMN IF NOT EXISTS proof_words VARCHAR(400) NULL AFTER proof;

-- Every change of a text or cadence: waiting for somebody who may release it, released, or declined. `asked` is the request as it was
-- made; of a released one, what was kept.
CREATE TABLE IF NOT EXISTS wording (
  id BINARY(16) NOT NULL COMMENT 'id:wording',
  act ENUM('createTemplate', 'changeTemplate', 'createSnippet', 'changeSnippet', 'createCadence', 'saveCadence') NOT NULL,
  template_id BINARY(16) NULL,
  snippet_id BINARY(16) NULL,
  cadence_id BINARY(16) NULL,
  name VARCHAR(80) NOT NULL,
  asked JSON NOT NULL,
  author_id BINARY(16) NOT NULL,
  at DATETIME(3) NOT NULL,
  state ENUM('waiting', 'released', 'declined') NOT NULL,
  decided_by BINARY(16) NULL COMMENT 'id:user',
  decided_at DATETIME(3) NULL,
  said VARCHAR(500) NULL,
  version INT NOT NULL DEFAULT 1,
  PRIMARY KEY (id),
  KEY wording_state (state, at),
  CONSTRAINT wording_of_template FOREIGN KEY (template_id) REFERENCES template (id) ON DELETE CASCADE,
  CONSTRAINT wording_of_snippet FOREIGN KEY (snippet_id) REFERENCES snippet (id) ON DELETE CASCADE,
  CONSTRAINT wording_of_cadence FOREIGN KEY (cadence_id) REFERENCES cadence (id) ON DELETE CASCADE,
  CONSTRAINT wording_author FOREIGN KEY (author_id) REFERENCES app_user (id),
  CONSTRAINT wording_decided_by FOREIGN KEY (decided_by) REFERENCES app_user (id)
);

-- A form may ask for a consent to be confirmed by mail: whoever ticked it may not be whose address it is.
ALTER TABLE web_form ADD COLUMN IF NOT EXISTS confirms_consent TINYINT(1) NOT NULL DEFAULT 0 AFTER consent_words;
ALTER TABLE sales_lead
  ADD COLUMN IF NOT EXISTS consent_confirms TINYINT(1) NOT NULL DEFAULT 0 AFTER consent_at,
  ADD COLUMN IF NOT EXISTS consent_confirmed_at DATETIME(3) NULL AFTER consent_confirms;
