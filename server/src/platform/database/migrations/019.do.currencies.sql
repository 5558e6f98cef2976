-- What one unit of a foreign currency is in the organisation's own, from a day on.
CREATE TABLE IF NOT EXISTS exchange_rate (
  currency CHAR(3) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  from_on DATE NOT NULL,
  rate DECIMAL(18,8) NOT NULL CHECK (rate > 0),
  PRIMARY KEY (currency, from_on)
) ENGINE = InnoDB;

-- Amounts in the organisation's own currency, so that sums never add one currency to another; empty while there is no rate. Derived.
ALTER TABLE deal ADD COLUMN IF NOT EXISTS home_minor BIGINT NULL AFTER currency;
ALTER TABLE agreement ADD COLUMN IF NOT EXISTS home_minor BIGINT NULL AFTER currency;
-- Until now everything was in the organisation's own.
UPDATE deal SET home_minor = amount_minor WHERE home_minor IS NULL;
UPDATE agreement SET home_minor = value_minor WHERE home_minor IS NULL;
ALTER TABLE deal DROP INDEX IF EXISTS deal_value, ADD INDEX deal_value (status, archived_at, home_minor, id);
