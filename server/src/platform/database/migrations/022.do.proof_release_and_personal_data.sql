-- What is known of whom a mail is from: the checks as they were made when it arrived, and what follows from them.
ALTER TABLE mail_arrival
  ADD COLUMN IF NOT EXISTS envelope_to VARCHAR(254) NULL AFTER envelope_from,
  ADD COLUMN IF NOT EXISTS checks JSON NULL AFTER envelope_to;
ALTER TABLE mail
  ADD COLUMN IF NOT EXISTS proof ENUM('proven', 'unproven', 'contradicted') NULL AFTER kind,
  ADD COLUMN IF NOT EXISTS proof_words VARCHAR(400) NULL AFTER proof;
