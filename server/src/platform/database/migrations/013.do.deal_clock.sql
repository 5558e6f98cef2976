-- When patience counts from is derived, so that no touch and no change can forget it: the last change of stage, amount or
-- close date, or the last counting touch.
ALTER TABLE deal CHANGE COLUMN moved_at changed_at DATETIME(3) NOT NULL;
ALTER TABLE deal
  ADD COLUMN moved_at DATETIME(3) AS (GREATEST(changed_at, COALESCE(last_touch_at, changed_at))) PERSISTENT;

-- Somebody may buy for themselves.
ALTER TABLE agreement MODIFY COLUMN company_id BINARY(16) NULL;
