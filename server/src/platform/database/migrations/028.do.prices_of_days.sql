-- The prices of a minute that hold for a person's day and the days after it, and what arrived on it, so that it is expected again.
ALTER TABLE round_day ADD COLUMN IF NOT EXISTS prices TEXT NULL;
ALTER TABLE round_day ADD COLUMN IF NOT EXISTS arrivals MEDIUMTEXT NULL;
ALTER TABLE round_day DROP COLUMN IF EXISTS best_below_per_minute;
