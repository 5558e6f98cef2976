-- What only one may do at a time is written here first: between the nodes of a cluster a lock keeps nobody out, and a row that two have
-- written does.
CREATE TABLE IF NOT EXISTS turn (
  name VARCHAR(40) NOT NULL PRIMARY KEY,
  taken BIGINT UNSIGNED NOT NULL DEFAULT 0
);
