-- Where addresses are, in degrees, where somebody said it by hand; of all others it follows from the postcode. And where the days of whoever
-- drives begin and end.
ALTER TABLE company ADD COLUMN IF NOT EXISTS latitude DECIMAL(8,5) NULL, ADD COLUMN IF NOT EXISTS longitude DECIMAL(8,5) NULL;
ALTER TABLE site ADD COLUMN IF NOT EXISTS latitude DECIMAL(8,5) NULL, ADD COLUMN IF NOT EXISTS longitude DECIMAL(8,5) NULL;
ALTER TABLE app_user
  ADD COLUMN IF NOT EXISTS start_words VARCHAR(160) NULL,
  ADD COLUMN IF NOT EXISTS start_latitude DECIMAL(8,5) NULL,
  ADD COLUMN IF NOT EXISTS start_longitude DECIMAL(8,5) NULL;
