-- A pipeline may take a deal on by itself once a stage's brief is done, and hand a won deal on to another pipeline; the deal that begins
-- there says which it came from.
ALTER TABLE pipeline ADD COLUMN IF NOT EXISTS moves_on TINYINT(1) NOT NULL DEFAULT 0 AFTER name;
ALTER TABLE pipeline ADD COLUMN IF NOT EXISTS hands_on_to BINARY(16) NULL AFTER moves_on;
ALTER TABLE pipeline ADD CONSTRAINT pipeline_hands_on FOREIGN KEY IF NOT EXISTS (hands_on_to) REFERENCES pipeline (id) ON DELETE SET NULL;
ALTER TABLE deal ADD COLUMN IF NOT EXISTS origin_id BINARY(16) NULL AFTER parent_id;
ALTER TABLE deal ADD INDEX IF NOT EXISTS deal_origin (origin_id);
ALTER TABLE deal ADD CONSTRAINT deal_of_origin FOREIGN KEY IF NOT EXISTS (origin_id) REFERENCES deal (id) ON DELETE SET NULL;
