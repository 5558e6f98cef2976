-- How far a deal is within its stage: none to four notches.
ALTER TABLE deal ADD COLUMN IF NOT EXISTS notches TINYINT NOT NULL DEFAULT 0 AFTER stage_id;
ALTER TABLE deal ADD CONSTRAINT IF NOT EXISTS deal_notches_range CHECK (notches BETWEEN 0 AND 4);
