-- Companies and agreements are lists with views of their own, as the others are.
ALTER TABLE saved_view MODIFY COLUMN place ENUM('people', 'companies', 'tasks', 'deals', 'leads', 'agreements') NOT NULL;
ALTER TABLE landing_view MODIFY COLUMN place ENUM('people', 'companies', 'tasks', 'deals', 'leads', 'agreements') NOT NULL;

-- A grouped list of deals is the list with its grouping; what tasks are sorted by says its direction itself.
UPDATE saved_view SET query = REPLACE(REPLACE(query, 'as=grouped', 'as=list'), 'by=', 'group=')
 WHERE place = 'deals' AND query LIKE '%as=grouped%' AND query LIKE '%by=%';
UPDATE saved_view SET query = CONCAT(REPLACE(query, 'as=grouped', 'as=list'), '&group=stage')
 WHERE place = 'deals' AND query LIKE '%as=grouped%';
UPDATE saved_view SET query = REPLACE(REPLACE(query, 'sort=', 'sort=-'), '&order=down', '')
 WHERE place = 'tasks' AND query LIKE '%sort=%' AND query LIKE '%&order=down%';

-- Marks of addresses and numbers whose person was erased on request, for a file that brings them again. They are keyed hashes: nobody reads
-- an address from one, or tries addresses on them without the key file.
CREATE TABLE erased_mark (
  mark BINARY(32) NOT NULL,
  at DATETIME(3) NOT NULL,
  PRIMARY KEY (mark)
) ENGINE = InnoDB;
