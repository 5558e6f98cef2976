-- How often tries were answered by channel, group of standings and the hour on the clock of whoever was tried; counted each night.
CREATE TABLE IF NOT EXISTS answer_rate (
  channel VARCHAR(20) NOT NULL,
  standing_group VARCHAR(20) NOT NULL,
  hour TINYINT NOT NULL,
  tried INT NOT NULL,
  answered INT NOT NULL,
  PRIMARY KEY (channel, standing_group, hour),
  CONSTRAINT answer_rate_range CHECK (hour BETWEEN 0 AND 23 AND tried >= answered AND answered >= 0)
);
