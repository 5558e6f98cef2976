-- How often tries were answered is known by the weekday as well; what was counted without it is counted anew in the night after.
DELETE FROM answer_rate WHERE NOT EXISTS (
  SELECT 1 FROM information_schema.columns
   WHERE table_schema = DATABASE() AND table_name = 'answer_rate' AND column_name = 'weekday');
ALTER TABLE answer_rate ADD COLUMN IF NOT EXISTS weekday TINYINT NOT NULL CHECK (weekday BETWEEN 1 AND 7) AFTER standing_group;
ALTER TABLE answer_rate DROP PRIMARY KEY, ADD PRIMARY KEY (channel, standing_group, weekday, hour);
