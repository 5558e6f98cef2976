-- What is learned each night from the organisation's own records, by name, with the cases it rests on.
CREATE TABLE IF NOT EXISTS learned (
  name VARCHAR(40) PRIMARY KEY,
  value DOUBLE NOT NULL,
  cases INT NOT NULL
);
