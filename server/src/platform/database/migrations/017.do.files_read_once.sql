-- A file is read once: its rows are kept with what was said of each, and every part of an import takes its own from here.
CREATE TABLE IF NOT EXISTS import_row (
  import_id BINARY(16) NOT NULL,
  position INT NOT NULL,
  line INT NOT NULL,
  verdict ENUM('wrong', 'twice-in-file', 'likely', 'known', 'new') NOT NULL,
  draft LONGTEXT CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL CHECK (JSON_VALID(draft)),
  problems LONGTEXT CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL CHECK (JSON_VALID(problems)),
  PRIMARY KEY (import_id, position),
  KEY import_row_shown (import_id, verdict, line),
  CONSTRAINT import_row_import_known FOREIGN KEY (import_id) REFERENCES import_batch (id) ON DELETE CASCADE
) ENGINE = InnoDB;
-- Columns with samples, the delimiter and the counts; empty until the file has been read.
ALTER TABLE import_batch ADD COLUMN IF NOT EXISTS layout LONGTEXT CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NULL CHECK (JSON_VALID(layout));

-- Who asked for a job, so that they are told when it failed for good.
ALTER TABLE job ADD COLUMN IF NOT EXISTS asked_by BINARY(16) NULL;
ALTER TABLE job ADD COLUMN IF NOT EXISTS failed_at DATETIME(3) NULL;
ALTER TABLE job ADD INDEX IF NOT EXISTS job_failed (state, failed_at);
-- One job of each night became two.
DELETE FROM job WHERE kind = 'learn' AND state = 'due';
