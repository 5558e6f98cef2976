-- Where a row of a day's Round stands: pinned to the top, or put by hand above or below the line where the free minutes end, at what
-- its minutes would have to be worth to stand there by themselves, right below another row among equals.
ALTER TABLE round_place
  ADD COLUMN IF NOT EXISTS place ENUM('top', 'above', 'below') NOT NULL DEFAULT 'top',
  ADD COLUMN IF NOT EXISTS hand_order INT NULL,
  ADD COLUMN IF NOT EXISTS measure DOUBLE NULL,
  ADD COLUMN IF NOT EXISTS after_key VARCHAR(80) NULL,
  ADD CONSTRAINT IF NOT EXISTS round_place_by_hand CHECK ((place = 'top') = (hand_order IS NULL) AND (place = 'top') = (measure IS NULL));
