-- Clocks that were written are derived from what people did, so that taking something back leaves no trace in them.
-- When a deal was opened again; null while it never was closed. Since when it is loose follows from it and from its tasks.
ALTER TABLE deal ADD COLUMN IF NOT EXISTS opened_at DATETIME(3) NULL AFTER stage_since;
UPDATE deal SET opened_at = loose_since WHERE loose_since IS NOT NULL AND opened_at IS NULL;

-- What a stage brief made is untouched while it is as it was made, not while its version is: an undo counts versions on.
ALTER TABLE brief_task ADD COLUMN IF NOT EXISTS made_as CHAR(32) NOT NULL DEFAULT '';
ALTER TABLE brief_task ADD COLUMN IF NOT EXISTS is_withdrawn BOOLEAN NOT NULL DEFAULT FALSE;
UPDATE brief_task b JOIN task t ON t.id = b.task_id
   SET b.made_as = MD5(CONCAT_WS('|', t.channel, t.purpose, t.due_on, t.minutes)), b.is_withdrawn = t.state = 'dropped'
 WHERE b.made_as = '' AND t.version = b.untouched_version;
ALTER TABLE brief_task DROP COLUMN IF EXISTS untouched_version;

-- One engine undoes every change. What the four before it kept can be undone no more; which contact was merged into which stays known.
ALTER TABLE contact_merge ADD COLUMN IF NOT EXISTS gone_name VARCHAR(242) NOT NULL DEFAULT '' AFTER user_id;
UPDATE contact_merge SET gone_name = COALESCE(JSON_VALUE(before_state, '$.goneName'), gone_name);
DELETE FROM contact_merge WHERE undone_at IS NOT NULL;
ALTER TABLE contact_merge DROP COLUMN IF EXISTS before_state;
ALTER TABLE contact_merge DROP COLUMN IF EXISTS undone_at;
DROP TABLE IF EXISTS undo_step;
DROP TABLE IF EXISTS qualification;

-- What a bulk change did to each contact is in its change sets.
ALTER TABLE bulk_item DROP COLUMN IF EXISTS before_value;

-- What is derived has a value until it is.
ALTER TABLE contact MODIFY COLUMN search_text VARCHAR(800) NOT NULL DEFAULT '';
ALTER TABLE sales_lead MODIFY COLUMN status_since DATETIME(3) NOT NULL DEFAULT NOW(3);

-- The change set that bulk work and imports began with: their parts are its parts.
ALTER TABLE bulk ADD COLUMN IF NOT EXISTS set_id BINARY(16) NULL;
ALTER TABLE import_batch ADD COLUMN IF NOT EXISTS set_id BINARY(16) NULL;
ALTER TABLE import_batch ADD COLUMN IF NOT EXISTS kept INT NOT NULL DEFAULT 0;
ALTER TABLE import_batch MODIFY COLUMN state ENUM('judged', 'applying', 'done', 'undoing', 'undone') NOT NULL DEFAULT 'judged';
