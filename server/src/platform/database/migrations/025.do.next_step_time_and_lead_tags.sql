-- A next step that was promised for a time shows it wherever the step is shown.
ALTER TABLE contact ADD COLUMN IF NOT EXISTS next_step_at DATETIME(3) NULL AFTER next_step_channel;
ALTER TABLE deal ADD COLUMN IF NOT EXISTS next_step_at DATETIME(3) NULL AFTER next_step_channel;

UPDATE contact c SET c.next_step_at =
  (SELECT t.promised_at FROM task t WHERE t.contact_id = c.id AND t.state = 'open'
    ORDER BY t.due_on, t.promised_at IS NULL, t.promised_at, t.id LIMIT 1)
 WHERE c.next_step_on IS NOT NULL;
UPDATE deal d SET d.next_step_at =
  (SELECT t.promised_at FROM task t WHERE t.deal_id = d.id AND t.state = 'open'
    ORDER BY t.due_on, t.promised_at IS NULL, t.promised_at, t.id LIMIT 1)
 WHERE d.next_step_on IS NOT NULL;

-- Leads are sorted by tags of their own, as people are.
CREATE TABLE IF NOT EXISTS lead_tag (
  lead_id BINARY(16) NOT NULL,
  tag VARCHAR(40) NOT NULL,
  PRIMARY KEY (lead_id, tag),
  KEY lead_tag_tag (tag, lead_id),
  CONSTRAINT lead_tag_lead_known FOREIGN KEY (lead_id) REFERENCES sales_lead (id)
) ENGINE = InnoDB;
