-- Contacts, companies, deals and agreements can be archived, as leads can: kept, found by search, and out of lists, counts and the Round.
ALTER TABLE contact ADD COLUMN IF NOT EXISTS archived_at DATETIME(3) NULL AFTER created_at;
ALTER TABLE company ADD COLUMN IF NOT EXISTS archived_at DATETIME(3) NULL AFTER created_at;
ALTER TABLE deal ADD COLUMN IF NOT EXISTS archived_at DATETIME(3) NULL AFTER created_at;
ALTER TABLE agreement ADD COLUMN IF NOT EXISTS archived_at DATETIME(3) NULL AFTER created_at;

-- Lists ask for what is not archived, in an order: one index serves both, so that a page far down reads no rows before it.
ALTER TABLE contact DROP INDEX IF EXISTS contact_sort_name, ADD INDEX contact_sort_name (archived_at, sort_name, id);
ALTER TABLE contact DROP INDEX IF EXISTS contact_company_name, ADD INDEX contact_company_name (archived_at, company_name, sort_name, id);
ALTER TABLE contact DROP INDEX IF EXISTS contact_last_touch, ADD INDEX contact_last_touch (archived_at, last_touch_at, id);
ALTER TABLE contact DROP INDEX IF EXISTS contact_next_step, ADD INDEX contact_next_step (archived_at, next_step_sort, id);
ALTER TABLE contact DROP INDEX IF EXISTS contact_check_in, ADD INDEX contact_check_in (archived_at, check_in_sort, id);
ALTER TABLE contact DROP INDEX IF EXISTS contact_source, ADD INDEX contact_source (archived_at, source, sort_name, id);
ALTER TABLE contact DROP INDEX IF EXISTS contact_country, ADD INDEX contact_country (archived_at, country, sort_name, id);
ALTER TABLE contact DROP INDEX IF EXISTS contact_created, ADD INDEX contact_created (archived_at, created_at, id);
ALTER TABLE contact ADD INDEX IF NOT EXISTS contact_standing_due (standing_id, archived_at, owner_id, next_touch_due);
ALTER TABLE contact DROP INDEX IF EXISTS contact_standing;
ALTER TABLE deal DROP INDEX IF EXISTS deal_next, ADD INDEX deal_next (status, archived_at, next_step_sort, id);
ALTER TABLE deal DROP INDEX IF EXISTS deal_close, ADD INDEX deal_close (status, archived_at, close_sort, id);
ALTER TABLE deal DROP INDEX IF EXISTS deal_value, ADD INDEX deal_value (status, archived_at, amount_minor, id);
ALTER TABLE deal DROP INDEX IF EXISTS deal_name, ADD INDEX deal_name (status, archived_at, name, id);
ALTER TABLE deal DROP INDEX IF EXISTS deal_won, ADD INDEX deal_won (status, archived_at, closed_on, id);
ALTER TABLE company DROP INDEX IF EXISTS company_name, ADD INDEX company_name (archived_at, name, id);
