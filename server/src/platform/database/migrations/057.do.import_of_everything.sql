-- Files hold more than people, in sheets too; what was said of a file and of its rows is kept with them.
ALTER TABLE import_batch
  MODIFY COLUMN type ENUM('csv', 'vcard', 'xlsx') NOT NULL,
  ADD COLUMN IF NOT EXISTS kind ENUM('people', 'companies', 'products', 'leads', 'deals', 'agreements', 'tasks', 'notes') NOT NULL DEFAULT 'people',
  ADD COLUMN IF NOT EXISTS sheet INT NOT NULL DEFAULT 0,
  ADD COLUMN IF NOT EXISTS date_order ENUM('dmy', 'mdy', 'ymd') NOT NULL DEFAULT 'dmy',
  ADD COLUMN IF NOT EXISTS decimal_mark ENUM('point', 'comma') NOT NULL DEFAULT 'point',
  ADD COLUMN IF NOT EXISTS package_id BINARY(16) NULL,
  ADD COLUMN IF NOT EXISTS updates TINYINT(1) NOT NULL DEFAULT 0,
  ADD COLUMN IF NOT EXISTS made INT NOT NULL DEFAULT 0,
  ADD COLUMN IF NOT EXISTS changed INT NOT NULL DEFAULT 0,
  ADD KEY IF NOT EXISTS import_package (package_id, created_at),
  ADD KEY IF NOT EXISTS import_remembered (kind, applied_at);
-- Which record a row is, or is likely to be, what would be another there, and what is to happen and happened.
ALTER TABLE import_row
  ADD COLUMN IF NOT EXISTS record_id BINARY(16) NULL,
  ADD COLUMN IF NOT EXISTS changes LONGTEXT CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NULL CHECK (JSON_VALID(changes)),
  ADD COLUMN IF NOT EXISTS choice ENUM('leave', 'new', 'same') NULL,
  ADD COLUMN IF NOT EXISTS outcome ENUM('made', 'changed', 'refused') NULL;
-- Counted as it is written from now on; what was written before is counted once.
UPDATE import_batch b SET made = (SELECT COUNT(*) FROM contact c WHERE c.import_id = b.id) WHERE b.applied_at IS NOT NULL AND b.made = 0;
