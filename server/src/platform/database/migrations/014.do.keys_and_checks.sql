-- Every reference is a foreign key, and what must hold of a value is a check. What an older version left behind is mended first, and how
-- much of it there was is kept in `migration_report`: a reference to something that is gone becomes empty, or its row is deleted when it
-- cannot be without. Every statement can be run again: a server that died in the middle goes on where it was.
CREATE TABLE IF NOT EXISTS migration_report (
  migration INT NOT NULL,
  step VARCHAR(80) NOT NULL,
  mended INT NOT NULL,
  at DATETIME(3) NOT NULL DEFAULT NOW(3),
  PRIMARY KEY (migration, step)
) ENGINE = InnoDB;

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'agreement.owner_id', COUNT(*) FROM agreement WHERE agreement.owner_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = agreement.owner_id) HAVING COUNT(*) > 0;
DELETE FROM agreement WHERE agreement.owner_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = agreement.owner_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'company.owner_id', COUNT(*) FROM company WHERE company.owner_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = company.owner_id) HAVING COUNT(*) > 0;
UPDATE company SET owner_id = NULL WHERE company.owner_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = company.owner_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'contact.owner_id', COUNT(*) FROM contact WHERE contact.owner_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = contact.owner_id) HAVING COUNT(*) > 0;
UPDATE contact SET owner_id = NULL WHERE contact.owner_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = contact.owner_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'deal.owner_id', COUNT(*) FROM deal WHERE deal.owner_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = deal.owner_id) HAVING COUNT(*) > 0;
DELETE FROM deal WHERE deal.owner_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = deal.owner_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'deal_colleague.user_id', COUNT(*) FROM deal_colleague WHERE deal_colleague.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = deal_colleague.user_id) HAVING COUNT(*) > 0;
DELETE FROM deal_colleague WHERE deal_colleague.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = deal_colleague.user_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'entry_before.edited_by', COUNT(*) FROM entry_before WHERE entry_before.edited_by IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = entry_before.edited_by) HAVING COUNT(*) > 0;
DELETE FROM entry_before WHERE entry_before.edited_by IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = entry_before.edited_by);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'entry_comment.user_id', COUNT(*) FROM entry_comment WHERE entry_comment.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = entry_comment.user_id) HAVING COUNT(*) > 0;
DELETE FROM entry_comment WHERE entry_comment.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = entry_comment.user_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'favourite_view.user_id', COUNT(*) FROM favourite_view WHERE favourite_view.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = favourite_view.user_id) HAVING COUNT(*) > 0;
DELETE FROM favourite_view WHERE favourite_view.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = favourite_view.user_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'first_admin.user_id', COUNT(*) FROM first_admin WHERE first_admin.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = first_admin.user_id) HAVING COUNT(*) > 0;
DELETE FROM first_admin WHERE first_admin.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = first_admin.user_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'import_batch.user_id', COUNT(*) FROM import_batch WHERE import_batch.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = import_batch.user_id) HAVING COUNT(*) > 0;
DELETE FROM import_batch WHERE import_batch.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = import_batch.user_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'journal_entry.user_id', COUNT(*) FROM journal_entry WHERE journal_entry.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = journal_entry.user_id) HAVING COUNT(*) > 0;
UPDATE journal_entry SET user_id = NULL WHERE journal_entry.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = journal_entry.user_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'journal_entry.removed_by', COUNT(*) FROM journal_entry WHERE journal_entry.removed_by IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = journal_entry.removed_by) HAVING COUNT(*) > 0;
UPDATE journal_entry SET removed_by = NULL WHERE journal_entry.removed_by IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = journal_entry.removed_by);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'landing_view.user_id', COUNT(*) FROM landing_view WHERE landing_view.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = landing_view.user_id) HAVING COUNT(*) > 0;
DELETE FROM landing_view WHERE landing_view.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = landing_view.user_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'mail.user_id', COUNT(*) FROM mail WHERE mail.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = mail.user_id) HAVING COUNT(*) > 0;
UPDATE mail SET user_id = NULL WHERE mail.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = mail.user_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'meeting.user_id', COUNT(*) FROM meeting WHERE meeting.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = meeting.user_id) HAVING COUNT(*) > 0;
DELETE FROM meeting WHERE meeting.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = meeting.user_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'not_duplicate.user_id', COUNT(*) FROM not_duplicate WHERE not_duplicate.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = not_duplicate.user_id) HAVING COUNT(*) > 0;
DELETE FROM not_duplicate WHERE not_duplicate.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = not_duplicate.user_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'notification.user_id', COUNT(*) FROM notification WHERE notification.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = notification.user_id) HAVING COUNT(*) > 0;
DELETE FROM notification WHERE notification.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = notification.user_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'phone_call.user_id', COUNT(*) FROM phone_call WHERE phone_call.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = phone_call.user_id) HAVING COUNT(*) > 0;
DELETE FROM phone_call WHERE phone_call.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = phone_call.user_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'prompt_tick.user_id', COUNT(*) FROM prompt_tick WHERE prompt_tick.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = prompt_tick.user_id) HAVING COUNT(*) > 0;
DELETE FROM prompt_tick WHERE prompt_tick.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = prompt_tick.user_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'round_day.user_id', COUNT(*) FROM round_day WHERE round_day.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = round_day.user_id) HAVING COUNT(*) > 0;
DELETE FROM round_day WHERE round_day.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = round_day.user_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'round_place.user_id', COUNT(*) FROM round_place WHERE round_place.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = round_place.user_id) HAVING COUNT(*) > 0;
DELETE FROM round_place WHERE round_place.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = round_place.user_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'run.owner_id', COUNT(*) FROM run WHERE run.owner_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = run.owner_id) HAVING COUNT(*) > 0;
DELETE FROM run WHERE run.owner_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = run.owner_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'sales_lead.owner_id', COUNT(*) FROM sales_lead WHERE sales_lead.owner_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = sales_lead.owner_id) HAVING COUNT(*) > 0;
UPDATE sales_lead SET owner_id = NULL WHERE sales_lead.owner_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = sales_lead.owner_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'saved_view.user_id', COUNT(*) FROM saved_view WHERE saved_view.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = saved_view.user_id) HAVING COUNT(*) > 0;
DELETE FROM saved_view WHERE saved_view.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = saved_view.user_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'sender_day.user_id', COUNT(*) FROM sender_day WHERE sender_day.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = sender_day.user_id) HAVING COUNT(*) > 0;
DELETE FROM sender_day WHERE sender_day.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = sender_day.user_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'stirring.user_id', COUNT(*) FROM stirring WHERE stirring.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = stirring.user_id) HAVING COUNT(*) > 0;
UPDATE stirring SET user_id = NULL WHERE stirring.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = stirring.user_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'stirring.handled_by', COUNT(*) FROM stirring WHERE stirring.handled_by IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = stirring.handled_by) HAVING COUNT(*) > 0;
UPDATE stirring SET handled_by = NULL WHERE stirring.handled_by IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = stirring.handled_by);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'stored_file.user_id', COUNT(*) FROM stored_file WHERE stored_file.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = stored_file.user_id) HAVING COUNT(*) > 0;
DELETE FROM stored_file WHERE stored_file.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = stored_file.user_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'task.owner_id', COUNT(*) FROM task WHERE task.owner_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = task.owner_id) HAVING COUNT(*) > 0;
DELETE FROM task WHERE task.owner_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = task.owner_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'task.made_by', COUNT(*) FROM task WHERE task.made_by IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = task.made_by) HAVING COUNT(*) > 0;
UPDATE task SET made_by = NULL WHERE task.made_by IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = task.made_by);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'text_message.user_id', COUNT(*) FROM text_message WHERE text_message.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = text_message.user_id) HAVING COUNT(*) > 0;
UPDATE text_message SET user_id = NULL WHERE text_message.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = text_message.user_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'bulk.user_id', COUNT(*) FROM bulk WHERE bulk.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = bulk.user_id) HAVING COUNT(*) > 0;
DELETE FROM bulk WHERE bulk.user_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM app_user parent_row WHERE parent_row.id = bulk.user_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'contact.site_id', COUNT(*) FROM contact WHERE contact.site_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM site parent_row WHERE parent_row.id = contact.site_id) HAVING COUNT(*) > 0;
UPDATE contact SET site_id = NULL WHERE contact.site_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM site parent_row WHERE parent_row.id = contact.site_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'deal_line.product_id', COUNT(*) FROM deal_line WHERE deal_line.product_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM product parent_row WHERE parent_row.id = deal_line.product_id) HAVING COUNT(*) > 0;
UPDATE deal_line SET product_id = NULL WHERE deal_line.product_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM product parent_row WHERE parent_row.id = deal_line.product_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'run.cadence_id', COUNT(*) FROM run WHERE run.cadence_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM cadence parent_row WHERE parent_row.id = run.cadence_id) HAVING COUNT(*) > 0;
DELETE FROM run WHERE run.cadence_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM cadence parent_row WHERE parent_row.id = run.cadence_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'brief_task.stage_id', COUNT(*) FROM brief_task WHERE brief_task.stage_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM stage parent_row WHERE parent_row.id = brief_task.stage_id) HAVING COUNT(*) > 0;
DELETE FROM brief_task WHERE brief_task.stage_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM stage parent_row WHERE parent_row.id = brief_task.stage_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'stage_stay.stage_id', COUNT(*) FROM stage_stay WHERE stage_stay.stage_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM stage parent_row WHERE parent_row.id = stage_stay.stage_id) HAVING COUNT(*) > 0;
DELETE FROM stage_stay WHERE stage_stay.stage_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM stage parent_row WHERE parent_row.id = stage_stay.stage_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'sales_lead.form_id', COUNT(*) FROM sales_lead WHERE sales_lead.form_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM web_form parent_row WHERE parent_row.id = sales_lead.form_id) HAVING COUNT(*) > 0;
UPDATE sales_lead SET form_id = NULL WHERE sales_lead.form_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM web_form parent_row WHERE parent_row.id = sales_lead.form_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'contact.import_id', COUNT(*) FROM contact WHERE contact.import_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM import_batch parent_row WHERE parent_row.id = contact.import_id) HAVING COUNT(*) > 0;
UPDATE contact SET import_id = NULL WHERE contact.import_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM import_batch parent_row WHERE parent_row.id = contact.import_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'sales_lead.import_id', COUNT(*) FROM sales_lead WHERE sales_lead.import_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM import_batch parent_row WHERE parent_row.id = sales_lead.import_id) HAVING COUNT(*) > 0;
UPDATE sales_lead SET import_id = NULL WHERE sales_lead.import_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM import_batch parent_row WHERE parent_row.id = sales_lead.import_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'task.bulk_id', COUNT(*) FROM task WHERE task.bulk_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM bulk parent_row WHERE parent_row.id = task.bulk_id) HAVING COUNT(*) > 0;
UPDATE task SET bulk_id = NULL WHERE task.bulk_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM bulk parent_row WHERE parent_row.id = task.bulk_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'mail.arrival_id', COUNT(*) FROM mail WHERE mail.arrival_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM mail_arrival parent_row WHERE parent_row.id = mail.arrival_id) HAVING COUNT(*) > 0;
UPDATE mail SET arrival_id = NULL WHERE mail.arrival_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM mail_arrival parent_row WHERE parent_row.id = mail.arrival_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'mail.template_id', COUNT(*) FROM mail WHERE mail.template_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM template parent_row WHERE parent_row.id = mail.template_id) HAVING COUNT(*) > 0;
UPDATE mail SET template_id = NULL WHERE mail.template_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM template parent_row WHERE parent_row.id = mail.template_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'run_step.template_id', COUNT(*) FROM run_step WHERE run_step.template_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM template parent_row WHERE parent_row.id = run_step.template_id) HAVING COUNT(*) > 0;
UPDATE run_step SET template_id = NULL WHERE run_step.template_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM template parent_row WHERE parent_row.id = run_step.template_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'stored_file.template_id', COUNT(*) FROM stored_file WHERE stored_file.template_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM template parent_row WHERE parent_row.id = stored_file.template_id) HAVING COUNT(*) > 0;
UPDATE stored_file SET template_id = NULL WHERE stored_file.template_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM template parent_row WHERE parent_row.id = stored_file.template_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'text_message.template_id', COUNT(*) FROM text_message WHERE text_message.template_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM template parent_row WHERE parent_row.id = text_message.template_id) HAVING COUNT(*) > 0;
UPDATE text_message SET template_id = NULL WHERE text_message.template_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM template parent_row WHERE parent_row.id = text_message.template_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'deal.company_id', COUNT(*) FROM deal WHERE deal.company_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM company parent_row WHERE parent_row.id = deal.company_id) HAVING COUNT(*) > 0;
UPDATE deal SET company_id = NULL WHERE deal.company_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM company parent_row WHERE parent_row.id = deal.company_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'journal_entry.company_id', COUNT(*) FROM journal_entry WHERE journal_entry.company_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM company parent_row WHERE parent_row.id = journal_entry.company_id) HAVING COUNT(*) > 0;
UPDATE journal_entry SET company_id = NULL WHERE journal_entry.company_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM company parent_row WHERE parent_row.id = journal_entry.company_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'stored_file.company_id', COUNT(*) FROM stored_file WHERE stored_file.company_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM company parent_row WHERE parent_row.id = stored_file.company_id) HAVING COUNT(*) > 0;
UPDATE stored_file SET company_id = NULL WHERE stored_file.company_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM company parent_row WHERE parent_row.id = stored_file.company_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'task.company_id', COUNT(*) FROM task WHERE task.company_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM company parent_row WHERE parent_row.id = task.company_id) HAVING COUNT(*) > 0;
UPDATE task SET company_id = NULL WHERE task.company_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM company parent_row WHERE parent_row.id = task.company_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'agreement.contact_id', COUNT(*) FROM agreement WHERE agreement.contact_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM contact parent_row WHERE parent_row.id = agreement.contact_id) HAVING COUNT(*) > 0;
UPDATE agreement SET contact_id = NULL WHERE agreement.contact_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM contact parent_row WHERE parent_row.id = agreement.contact_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'custom_value.person_id', COUNT(*) FROM custom_value WHERE custom_value.person_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM contact parent_row WHERE parent_row.id = custom_value.person_id) HAVING COUNT(*) > 0;
UPDATE custom_value SET person_id = NULL WHERE custom_value.person_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM contact parent_row WHERE parent_row.id = custom_value.person_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'deal.contact_id', COUNT(*) FROM deal WHERE deal.contact_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM contact parent_row WHERE parent_row.id = deal.contact_id) HAVING COUNT(*) > 0;
UPDATE deal SET contact_id = NULL WHERE deal.contact_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM contact parent_row WHERE parent_row.id = deal.contact_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'entry_person.contact_id', COUNT(*) FROM entry_person WHERE entry_person.contact_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM contact parent_row WHERE parent_row.id = entry_person.contact_id) HAVING COUNT(*) > 0;
DELETE FROM entry_person WHERE entry_person.contact_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM contact parent_row WHERE parent_row.id = entry_person.contact_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'journal_entry.contact_id', COUNT(*) FROM journal_entry WHERE journal_entry.contact_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM contact parent_row WHERE parent_row.id = journal_entry.contact_id) HAVING COUNT(*) > 0;
UPDATE journal_entry SET contact_id = NULL WHERE journal_entry.contact_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM contact parent_row WHERE parent_row.id = journal_entry.contact_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'mail.contact_id', COUNT(*) FROM mail WHERE mail.contact_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM contact parent_row WHERE parent_row.id = mail.contact_id) HAVING COUNT(*) > 0;
UPDATE mail SET contact_id = NULL WHERE mail.contact_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM contact parent_row WHERE parent_row.id = mail.contact_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'meeting.contact_id', COUNT(*) FROM meeting WHERE meeting.contact_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM contact parent_row WHERE parent_row.id = meeting.contact_id) HAVING COUNT(*) > 0;
UPDATE meeting SET contact_id = NULL WHERE meeting.contact_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM contact parent_row WHERE parent_row.id = meeting.contact_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'phone_call.contact_id', COUNT(*) FROM phone_call WHERE phone_call.contact_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM contact parent_row WHERE parent_row.id = phone_call.contact_id) HAVING COUNT(*) > 0;
UPDATE phone_call SET contact_id = NULL WHERE phone_call.contact_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM contact parent_row WHERE parent_row.id = phone_call.contact_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'stirring.contact_id', COUNT(*) FROM stirring WHERE stirring.contact_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM contact parent_row WHERE parent_row.id = stirring.contact_id) HAVING COUNT(*) > 0;
UPDATE stirring SET contact_id = NULL WHERE stirring.contact_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM contact parent_row WHERE parent_row.id = stirring.contact_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'stored_file.contact_id', COUNT(*) FROM stored_file WHERE stored_file.contact_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM contact parent_row WHERE parent_row.id = stored_file.contact_id) HAVING COUNT(*) > 0;
UPDATE stored_file SET contact_id = NULL WHERE stored_file.contact_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM contact parent_row WHERE parent_row.id = stored_file.contact_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'task.contact_id', COUNT(*) FROM task WHERE task.contact_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM contact parent_row WHERE parent_row.id = task.contact_id) HAVING COUNT(*) > 0;
UPDATE task SET contact_id = NULL WHERE task.contact_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM contact parent_row WHERE parent_row.id = task.contact_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'text_message.contact_id', COUNT(*) FROM text_message WHERE text_message.contact_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM contact parent_row WHERE parent_row.id = text_message.contact_id) HAVING COUNT(*) > 0;
UPDATE text_message SET contact_id = NULL WHERE text_message.contact_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM contact parent_row WHERE parent_row.id = text_message.contact_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'not_duplicate.one_id', COUNT(*) FROM not_duplicate WHERE not_duplicate.one_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM contact parent_row WHERE parent_row.id = not_duplicate.one_id) HAVING COUNT(*) > 0;
DELETE FROM not_duplicate WHERE not_duplicate.one_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM contact parent_row WHERE parent_row.id = not_duplicate.one_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'not_duplicate.other_id', COUNT(*) FROM not_duplicate WHERE not_duplicate.other_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM contact parent_row WHERE parent_row.id = not_duplicate.other_id) HAVING COUNT(*) > 0;
DELETE FROM not_duplicate WHERE not_duplicate.other_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM contact parent_row WHERE parent_row.id = not_duplicate.other_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'deal.lead_id', COUNT(*) FROM deal WHERE deal.lead_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM sales_lead parent_row WHERE parent_row.id = deal.lead_id) HAVING COUNT(*) > 0;
UPDATE deal SET lead_id = NULL WHERE deal.lead_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM sales_lead parent_row WHERE parent_row.id = deal.lead_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'agreement.deal_id', COUNT(*) FROM agreement WHERE agreement.deal_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM deal parent_row WHERE parent_row.id = agreement.deal_id) HAVING COUNT(*) > 0;
UPDATE agreement SET deal_id = NULL WHERE agreement.deal_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM deal parent_row WHERE parent_row.id = agreement.deal_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'deal.parent_id', COUNT(*) FROM deal WHERE deal.parent_id IS NOT NULL AND deal.parent_id NOT IN (SELECT id FROM (SELECT id FROM deal) known) HAVING COUNT(*) > 0;
UPDATE deal SET parent_id = NULL WHERE deal.parent_id IS NOT NULL AND deal.parent_id NOT IN (SELECT id FROM (SELECT id FROM deal) known);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'journal_entry.deal_id', COUNT(*) FROM journal_entry WHERE journal_entry.deal_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM deal parent_row WHERE parent_row.id = journal_entry.deal_id) HAVING COUNT(*) > 0;
UPDATE journal_entry SET deal_id = NULL WHERE journal_entry.deal_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM deal parent_row WHERE parent_row.id = journal_entry.deal_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'mail.deal_id', COUNT(*) FROM mail WHERE mail.deal_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM deal parent_row WHERE parent_row.id = mail.deal_id) HAVING COUNT(*) > 0;
UPDATE mail SET deal_id = NULL WHERE mail.deal_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM deal parent_row WHERE parent_row.id = mail.deal_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'run.deal_id', COUNT(*) FROM run WHERE run.deal_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM deal parent_row WHERE parent_row.id = run.deal_id) HAVING COUNT(*) > 0;
UPDATE run SET deal_id = NULL WHERE run.deal_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM deal parent_row WHERE parent_row.id = run.deal_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'sales_lead.deal_id', COUNT(*) FROM sales_lead WHERE sales_lead.deal_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM deal parent_row WHERE parent_row.id = sales_lead.deal_id) HAVING COUNT(*) > 0;
UPDATE sales_lead SET deal_id = NULL WHERE sales_lead.deal_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM deal parent_row WHERE parent_row.id = sales_lead.deal_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'stirring.deal_id', COUNT(*) FROM stirring WHERE stirring.deal_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM deal parent_row WHERE parent_row.id = stirring.deal_id) HAVING COUNT(*) > 0;
UPDATE stirring SET deal_id = NULL WHERE stirring.deal_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM deal parent_row WHERE parent_row.id = stirring.deal_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'stored_file.deal_id', COUNT(*) FROM stored_file WHERE stored_file.deal_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM deal parent_row WHERE parent_row.id = stored_file.deal_id) HAVING COUNT(*) > 0;
UPDATE stored_file SET deal_id = NULL WHERE stored_file.deal_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM deal parent_row WHERE parent_row.id = stored_file.deal_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'task.deal_id', COUNT(*) FROM task WHERE task.deal_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM deal parent_row WHERE parent_row.id = task.deal_id) HAVING COUNT(*) > 0;
UPDATE task SET deal_id = NULL WHERE task.deal_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM deal parent_row WHERE parent_row.id = task.deal_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'journal_entry.run_id', COUNT(*) FROM journal_entry WHERE journal_entry.run_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM run parent_row WHERE parent_row.id = journal_entry.run_id) HAVING COUNT(*) > 0;
UPDATE journal_entry SET run_id = NULL WHERE journal_entry.run_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM run parent_row WHERE parent_row.id = journal_entry.run_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'mail.run_id', COUNT(*) FROM mail WHERE mail.run_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM run parent_row WHERE parent_row.id = mail.run_id) HAVING COUNT(*) > 0;
UPDATE mail SET run_id = NULL WHERE mail.run_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM run parent_row WHERE parent_row.id = mail.run_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'task.run_id', COUNT(*) FROM task WHERE task.run_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM run parent_row WHERE parent_row.id = task.run_id) HAVING COUNT(*) > 0;
UPDATE task SET run_id = NULL WHERE task.run_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM run parent_row WHERE parent_row.id = task.run_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'text_message.run_id', COUNT(*) FROM text_message WHERE text_message.run_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM run parent_row WHERE parent_row.id = text_message.run_id) HAVING COUNT(*) > 0;
UPDATE text_message SET run_id = NULL WHERE text_message.run_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM run parent_row WHERE parent_row.id = text_message.run_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'brief_task.task_id', COUNT(*) FROM brief_task WHERE brief_task.task_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM task parent_row WHERE parent_row.id = brief_task.task_id) HAVING COUNT(*) > 0;
DELETE FROM brief_task WHERE brief_task.task_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM task parent_row WHERE parent_row.id = brief_task.task_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'journal_entry.task_id', COUNT(*) FROM journal_entry WHERE journal_entry.task_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM task parent_row WHERE parent_row.id = journal_entry.task_id) HAVING COUNT(*) > 0;
UPDATE journal_entry SET task_id = NULL WHERE journal_entry.task_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM task parent_row WHERE parent_row.id = journal_entry.task_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'mail.entry_id', COUNT(*) FROM mail WHERE mail.entry_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM journal_entry parent_row WHERE parent_row.id = mail.entry_id) HAVING COUNT(*) > 0;
UPDATE mail SET entry_id = NULL WHERE mail.entry_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM journal_entry parent_row WHERE parent_row.id = mail.entry_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'text_message.entry_id', COUNT(*) FROM text_message WHERE text_message.entry_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM journal_entry parent_row WHERE parent_row.id = text_message.entry_id) HAVING COUNT(*) > 0;
UPDATE text_message SET entry_id = NULL WHERE text_message.entry_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM journal_entry parent_row WHERE parent_row.id = text_message.entry_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'stirring.mail_id', COUNT(*) FROM stirring WHERE stirring.mail_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM mail parent_row WHERE parent_row.id = stirring.mail_id) HAVING COUNT(*) > 0;
UPDATE stirring SET mail_id = NULL WHERE stirring.mail_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM mail parent_row WHERE parent_row.id = stirring.mail_id);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'stirring.text_id', COUNT(*) FROM stirring WHERE stirring.text_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM text_message parent_row WHERE parent_row.id = stirring.text_id) HAVING COUNT(*) > 0;
UPDATE stirring SET text_id = NULL WHERE stirring.text_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM text_message parent_row WHERE parent_row.id = stirring.text_id);

-- What hung on a row by a cascade hangs on it by a plain key: what goes with it is deleted by statement, so that it can be put back.
ALTER TABLE brief_task DROP FOREIGN KEY IF EXISTS brief_task_of_deal;
ALTER TABLE contact_company DROP FOREIGN KEY IF EXISTS link_of_contact;
ALTER TABLE contact_point DROP FOREIGN KEY IF EXISTS point_of_contact;
ALTER TABLE contact_tag DROP FOREIGN KEY IF EXISTS tag_of_contact;
ALTER TABLE deal_colleague DROP FOREIGN KEY IF EXISTS colleague_in_deal;
ALTER TABLE deal_competitor DROP FOREIGN KEY IF EXISTS competitor_in_deal;
ALTER TABLE deal_line DROP FOREIGN KEY IF EXISTS line_in_deal;
ALTER TABLE deal_person DROP FOREIGN KEY IF EXISTS person_of_deal;
ALTER TABLE deal_person DROP FOREIGN KEY IF EXISTS contact_in_deal;
ALTER TABLE do_not_contact DROP FOREIGN KEY IF EXISTS do_not_contact_person;
ALTER TABLE entry_before DROP FOREIGN KEY IF EXISTS before_of_entry;
ALTER TABLE entry_comment DROP FOREIGN KEY IF EXISTS comment_of_entry;
ALTER TABLE entry_person DROP FOREIGN KEY IF EXISTS person_of_entry;
ALTER TABLE favourite_view DROP FOREIGN KEY IF EXISTS favourite_of_view;
ALTER TABLE landing_view DROP FOREIGN KEY IF EXISTS landing_on_view;
ALTER TABLE prompt_tick DROP FOREIGN KEY IF EXISTS tick_of_deal;
ALTER TABLE site DROP FOREIGN KEY IF EXISTS site_of_company;
ALTER TABLE stage_stay DROP FOREIGN KEY IF EXISTS stay_of_deal;

ALTER TABLE agreement
  ADD CONSTRAINT agreement_owner_known FOREIGN KEY IF NOT EXISTS (owner_id) REFERENCES app_user (id),
  ADD CONSTRAINT agreement_contact_known FOREIGN KEY IF NOT EXISTS (contact_id) REFERENCES contact (id),
  ADD CONSTRAINT agreement_deal_known FOREIGN KEY IF NOT EXISTS (deal_id) REFERENCES deal (id);
ALTER TABLE brief_task
  ADD CONSTRAINT brief_task_stage_known FOREIGN KEY IF NOT EXISTS (stage_id) REFERENCES stage (id),
  ADD CONSTRAINT brief_task_task_known FOREIGN KEY IF NOT EXISTS (task_id) REFERENCES task (id),
  ADD CONSTRAINT brief_task_deal_known FOREIGN KEY IF NOT EXISTS (deal_id) REFERENCES deal (id);
ALTER TABLE bulk
  ADD CONSTRAINT bulk_user_known FOREIGN KEY IF NOT EXISTS (user_id) REFERENCES app_user (id);
ALTER TABLE company
  ADD CONSTRAINT company_owner_known FOREIGN KEY IF NOT EXISTS (owner_id) REFERENCES app_user (id);
ALTER TABLE contact
  ADD CONSTRAINT contact_owner_known FOREIGN KEY IF NOT EXISTS (owner_id) REFERENCES app_user (id),
  ADD CONSTRAINT contact_site_known FOREIGN KEY IF NOT EXISTS (site_id) REFERENCES site (id),
  ADD CONSTRAINT contact_import_known FOREIGN KEY IF NOT EXISTS (import_id) REFERENCES import_batch (id);
ALTER TABLE contact_company
  ADD CONSTRAINT contact_company_contact_known FOREIGN KEY IF NOT EXISTS (contact_id) REFERENCES contact (id);
ALTER TABLE contact_point
  ADD CONSTRAINT contact_point_contact_known FOREIGN KEY IF NOT EXISTS (contact_id) REFERENCES contact (id);
ALTER TABLE contact_tag
  ADD CONSTRAINT contact_tag_contact_known FOREIGN KEY IF NOT EXISTS (contact_id) REFERENCES contact (id);
ALTER TABLE custom_value
  ADD CONSTRAINT custom_value_person_known FOREIGN KEY IF NOT EXISTS (person_id) REFERENCES contact (id);
ALTER TABLE deal
  ADD CONSTRAINT deal_owner_known FOREIGN KEY IF NOT EXISTS (owner_id) REFERENCES app_user (id),
  ADD CONSTRAINT deal_company_known FOREIGN KEY IF NOT EXISTS (company_id) REFERENCES company (id),
  ADD CONSTRAINT deal_contact_known FOREIGN KEY IF NOT EXISTS (contact_id) REFERENCES contact (id),
  ADD CONSTRAINT deal_lead_known FOREIGN KEY IF NOT EXISTS (lead_id) REFERENCES sales_lead (id),
  ADD CONSTRAINT deal_parent_known FOREIGN KEY IF NOT EXISTS (parent_id) REFERENCES deal (id);
ALTER TABLE deal_colleague
  ADD CONSTRAINT deal_colleague_user_known FOREIGN KEY IF NOT EXISTS (user_id) REFERENCES app_user (id),
  ADD CONSTRAINT deal_colleague_deal_known FOREIGN KEY IF NOT EXISTS (deal_id) REFERENCES deal (id);
ALTER TABLE deal_competitor
  ADD CONSTRAINT deal_competitor_deal_known FOREIGN KEY IF NOT EXISTS (deal_id) REFERENCES deal (id);
ALTER TABLE deal_line
  ADD CONSTRAINT deal_line_product_known FOREIGN KEY IF NOT EXISTS (product_id) REFERENCES product (id),
  ADD CONSTRAINT deal_line_deal_known FOREIGN KEY IF NOT EXISTS (deal_id) REFERENCES deal (id);
ALTER TABLE deal_person
  ADD CONSTRAINT deal_person_deal_known FOREIGN KEY IF NOT EXISTS (deal_id) REFERENCES deal (id),
  ADD CONSTRAINT deal_person_contact_known FOREIGN KEY IF NOT EXISTS (contact_id) REFERENCES contact (id);
ALTER TABLE do_not_contact
  ADD CONSTRAINT do_not_contact_contact_known FOREIGN KEY IF NOT EXISTS (contact_id) REFERENCES contact (id);
ALTER TABLE entry_before
  ADD CONSTRAINT entry_before_edited_by_known FOREIGN KEY IF NOT EXISTS (edited_by) REFERENCES app_user (id),
  ADD CONSTRAINT entry_before_entry_known FOREIGN KEY IF NOT EXISTS (entry_id) REFERENCES journal_entry (id);
ALTER TABLE entry_comment
  ADD CONSTRAINT entry_comment_user_known FOREIGN KEY IF NOT EXISTS (user_id) REFERENCES app_user (id),
  ADD CONSTRAINT entry_comment_entry_known FOREIGN KEY IF NOT EXISTS (entry_id) REFERENCES journal_entry (id);
ALTER TABLE entry_person
  ADD CONSTRAINT entry_person_contact_known FOREIGN KEY IF NOT EXISTS (contact_id) REFERENCES contact (id),
  ADD CONSTRAINT entry_person_entry_known FOREIGN KEY IF NOT EXISTS (entry_id) REFERENCES journal_entry (id);
ALTER TABLE favourite_view
  ADD CONSTRAINT favourite_view_user_known FOREIGN KEY IF NOT EXISTS (user_id) REFERENCES app_user (id),
  ADD CONSTRAINT favourite_view_view_known FOREIGN KEY IF NOT EXISTS (view_id) REFERENCES saved_view (id);
ALTER TABLE first_admin
  ADD CONSTRAINT first_admin_user_known FOREIGN KEY IF NOT EXISTS (user_id) REFERENCES app_user (id);
ALTER TABLE import_batch
  ADD CONSTRAINT import_batch_user_known FOREIGN KEY IF NOT EXISTS (user_id) REFERENCES app_user (id);
ALTER TABLE journal_entry
  ADD CONSTRAINT journal_entry_user_known FOREIGN KEY IF NOT EXISTS (user_id) REFERENCES app_user (id),
  ADD CONSTRAINT journal_entry_removed_by_known FOREIGN KEY IF NOT EXISTS (removed_by) REFERENCES app_user (id),
  ADD CONSTRAINT journal_entry_company_known FOREIGN KEY IF NOT EXISTS (company_id) REFERENCES company (id),
  ADD CONSTRAINT journal_entry_contact_known FOREIGN KEY IF NOT EXISTS (contact_id) REFERENCES contact (id),
  ADD CONSTRAINT journal_entry_deal_known FOREIGN KEY IF NOT EXISTS (deal_id) REFERENCES deal (id),
  ADD CONSTRAINT journal_entry_run_known FOREIGN KEY IF NOT EXISTS (run_id) REFERENCES run (id),
  ADD CONSTRAINT journal_entry_task_known FOREIGN KEY IF NOT EXISTS (task_id) REFERENCES task (id);
ALTER TABLE landing_view
  ADD CONSTRAINT landing_view_user_known FOREIGN KEY IF NOT EXISTS (user_id) REFERENCES app_user (id),
  ADD CONSTRAINT landing_view_view_known FOREIGN KEY IF NOT EXISTS (view_id) REFERENCES saved_view (id);
ALTER TABLE mail
  ADD CONSTRAINT mail_user_known FOREIGN KEY IF NOT EXISTS (user_id) REFERENCES app_user (id),
  ADD CONSTRAINT mail_arrival_known FOREIGN KEY IF NOT EXISTS (arrival_id) REFERENCES mail_arrival (id),
  ADD CONSTRAINT mail_template_known FOREIGN KEY IF NOT EXISTS (template_id) REFERENCES template (id),
  ADD CONSTRAINT mail_contact_known FOREIGN KEY IF NOT EXISTS (contact_id) REFERENCES contact (id),
  ADD CONSTRAINT mail_deal_known FOREIGN KEY IF NOT EXISTS (deal_id) REFERENCES deal (id),
  ADD CONSTRAINT mail_run_known FOREIGN KEY IF NOT EXISTS (run_id) REFERENCES run (id),
  ADD CONSTRAINT mail_entry_known FOREIGN KEY IF NOT EXISTS (entry_id) REFERENCES journal_entry (id);
ALTER TABLE meeting
  ADD CONSTRAINT meeting_user_known FOREIGN KEY IF NOT EXISTS (user_id) REFERENCES app_user (id),
  ADD CONSTRAINT meeting_contact_known FOREIGN KEY IF NOT EXISTS (contact_id) REFERENCES contact (id);
ALTER TABLE not_duplicate
  ADD CONSTRAINT not_duplicate_user_known FOREIGN KEY IF NOT EXISTS (user_id) REFERENCES app_user (id),
  ADD CONSTRAINT not_duplicate_one_known FOREIGN KEY IF NOT EXISTS (one_id) REFERENCES contact (id),
  ADD CONSTRAINT not_duplicate_other_known FOREIGN KEY IF NOT EXISTS (other_id) REFERENCES contact (id);
ALTER TABLE notification
  ADD CONSTRAINT notification_user_known FOREIGN KEY IF NOT EXISTS (user_id) REFERENCES app_user (id);
ALTER TABLE phone_call
  ADD CONSTRAINT phone_call_user_known FOREIGN KEY IF NOT EXISTS (user_id) REFERENCES app_user (id),
  ADD CONSTRAINT phone_call_contact_known FOREIGN KEY IF NOT EXISTS (contact_id) REFERENCES contact (id);
ALTER TABLE prompt_tick
  ADD CONSTRAINT prompt_tick_user_known FOREIGN KEY IF NOT EXISTS (user_id) REFERENCES app_user (id),
  ADD CONSTRAINT prompt_tick_deal_known FOREIGN KEY IF NOT EXISTS (deal_id) REFERENCES deal (id);
ALTER TABLE round_day
  ADD CONSTRAINT round_day_user_known FOREIGN KEY IF NOT EXISTS (user_id) REFERENCES app_user (id);
ALTER TABLE round_place
  ADD CONSTRAINT round_place_user_known FOREIGN KEY IF NOT EXISTS (user_id) REFERENCES app_user (id);
ALTER TABLE run
  ADD CONSTRAINT run_owner_known FOREIGN KEY IF NOT EXISTS (owner_id) REFERENCES app_user (id),
  ADD CONSTRAINT run_cadence_known FOREIGN KEY IF NOT EXISTS (cadence_id) REFERENCES cadence (id),
  ADD CONSTRAINT run_deal_known FOREIGN KEY IF NOT EXISTS (deal_id) REFERENCES deal (id);
ALTER TABLE run_step
  ADD CONSTRAINT run_step_template_known FOREIGN KEY IF NOT EXISTS (template_id) REFERENCES template (id);
ALTER TABLE sales_lead
  ADD CONSTRAINT sales_lead_owner_known FOREIGN KEY IF NOT EXISTS (owner_id) REFERENCES app_user (id),
  ADD CONSTRAINT sales_lead_form_known FOREIGN KEY IF NOT EXISTS (form_id) REFERENCES web_form (id),
  ADD CONSTRAINT sales_lead_import_known FOREIGN KEY IF NOT EXISTS (import_id) REFERENCES import_batch (id),
  ADD CONSTRAINT sales_lead_deal_known FOREIGN KEY IF NOT EXISTS (deal_id) REFERENCES deal (id);
ALTER TABLE saved_view
  ADD CONSTRAINT saved_view_user_known FOREIGN KEY IF NOT EXISTS (user_id) REFERENCES app_user (id);
ALTER TABLE sender_day
  ADD CONSTRAINT sender_day_user_known FOREIGN KEY IF NOT EXISTS (user_id) REFERENCES app_user (id);
ALTER TABLE site
  ADD CONSTRAINT site_company_known FOREIGN KEY IF NOT EXISTS (company_id) REFERENCES company (id);
ALTER TABLE stage_stay
  ADD CONSTRAINT stage_stay_stage_known FOREIGN KEY IF NOT EXISTS (stage_id) REFERENCES stage (id),
  ADD CONSTRAINT stage_stay_deal_known FOREIGN KEY IF NOT EXISTS (deal_id) REFERENCES deal (id);
ALTER TABLE stirring
  ADD CONSTRAINT stirring_user_known FOREIGN KEY IF NOT EXISTS (user_id) REFERENCES app_user (id),
  ADD CONSTRAINT stirring_handled_by_known FOREIGN KEY IF NOT EXISTS (handled_by) REFERENCES app_user (id),
  ADD CONSTRAINT stirring_contact_known FOREIGN KEY IF NOT EXISTS (contact_id) REFERENCES contact (id),
  ADD CONSTRAINT stirring_deal_known FOREIGN KEY IF NOT EXISTS (deal_id) REFERENCES deal (id),
  ADD CONSTRAINT stirring_mail_known FOREIGN KEY IF NOT EXISTS (mail_id) REFERENCES mail (id),
  ADD CONSTRAINT stirring_text_known FOREIGN KEY IF NOT EXISTS (text_id) REFERENCES text_message (id);
ALTER TABLE stored_file
  ADD CONSTRAINT stored_file_user_known FOREIGN KEY IF NOT EXISTS (user_id) REFERENCES app_user (id),
  ADD CONSTRAINT stored_file_template_known FOREIGN KEY IF NOT EXISTS (template_id) REFERENCES template (id),
  ADD CONSTRAINT stored_file_company_known FOREIGN KEY IF NOT EXISTS (company_id) REFERENCES company (id),
  ADD CONSTRAINT stored_file_contact_known FOREIGN KEY IF NOT EXISTS (contact_id) REFERENCES contact (id),
  ADD CONSTRAINT stored_file_deal_known FOREIGN KEY IF NOT EXISTS (deal_id) REFERENCES deal (id);
ALTER TABLE task
  ADD CONSTRAINT task_owner_known FOREIGN KEY IF NOT EXISTS (owner_id) REFERENCES app_user (id),
  ADD CONSTRAINT task_made_by_known FOREIGN KEY IF NOT EXISTS (made_by) REFERENCES app_user (id),
  ADD CONSTRAINT task_bulk_known FOREIGN KEY IF NOT EXISTS (bulk_id) REFERENCES bulk (id),
  ADD CONSTRAINT task_company_known FOREIGN KEY IF NOT EXISTS (company_id) REFERENCES company (id),
  ADD CONSTRAINT task_contact_known FOREIGN KEY IF NOT EXISTS (contact_id) REFERENCES contact (id),
  ADD CONSTRAINT task_deal_known FOREIGN KEY IF NOT EXISTS (deal_id) REFERENCES deal (id),
  ADD CONSTRAINT task_run_known FOREIGN KEY IF NOT EXISTS (run_id) REFERENCES run (id);
ALTER TABLE text_message
  ADD CONSTRAINT text_message_user_known FOREIGN KEY IF NOT EXISTS (user_id) REFERENCES app_user (id),
  ADD CONSTRAINT text_message_template_known FOREIGN KEY IF NOT EXISTS (template_id) REFERENCES template (id),
  ADD CONSTRAINT text_message_contact_known FOREIGN KEY IF NOT EXISTS (contact_id) REFERENCES contact (id),
  ADD CONSTRAINT text_message_run_known FOREIGN KEY IF NOT EXISTS (run_id) REFERENCES run (id),
  ADD CONSTRAINT text_message_entry_known FOREIGN KEY IF NOT EXISTS (entry_id) REFERENCES journal_entry (id);

-- Numbers in their range; what lay outside is brought to its edge.
INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'agreement.value_minor range', COUNT(*) FROM agreement WHERE NOT (value_minor >= 0) HAVING COUNT(*) > 0;
UPDATE agreement SET value_minor = GREATEST(0, value_minor) WHERE NOT (value_minor >= 0);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'agreement.term_months range', COUNT(*) FROM agreement WHERE NOT (term_months BETWEEN 1 AND 240) HAVING COUNT(*) > 0;
UPDATE agreement SET term_months = GREATEST(1, LEAST(240, term_months)) WHERE NOT (term_months BETWEEN 1 AND 240);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'agreement.notice_days range', COUNT(*) FROM agreement WHERE NOT (notice_days >= 0) HAVING COUNT(*) > 0;
UPDATE agreement SET notice_days = GREATEST(0, notice_days) WHERE NOT (notice_days >= 0);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'agreement.lead_days range', COUNT(*) FROM agreement WHERE NOT (lead_days >= 0) HAVING COUNT(*) > 0;
UPDATE agreement SET lead_days = GREATEST(0, lead_days) WHERE NOT (lead_days >= 0);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'deal.amount_minor range', COUNT(*) FROM deal WHERE NOT (amount_minor >= 0) HAVING COUNT(*) > 0;
UPDATE deal SET amount_minor = GREATEST(0, amount_minor) WHERE NOT (amount_minor >= 0);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'deal.win_probability range', COUNT(*) FROM deal WHERE NOT (win_probability BETWEEN 0 AND 1) HAVING COUNT(*) > 0;
UPDATE deal SET win_probability = GREATEST(0, LEAST(1, win_probability)) WHERE NOT (win_probability BETWEEN 0 AND 1);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'stage.win_probability range', COUNT(*) FROM stage WHERE NOT (win_probability BETWEEN 0 AND 1) HAVING COUNT(*) > 0;
UPDATE stage SET win_probability = GREATEST(0, LEAST(1, win_probability)) WHERE NOT (win_probability BETWEEN 0 AND 1);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'stage.patience_days range', COUNT(*) FROM stage WHERE NOT (patience_days >= 1) HAVING COUNT(*) > 0;
UPDATE stage SET patience_days = GREATEST(1, patience_days) WHERE NOT (patience_days >= 1);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'product.price_minor range', COUNT(*) FROM product WHERE NOT (price_minor >= 0) HAVING COUNT(*) > 0;
UPDATE product SET price_minor = GREATEST(0, price_minor) WHERE NOT (price_minor >= 0);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'deal_line.price_minor range', COUNT(*) FROM deal_line WHERE NOT (price_minor >= 0) HAVING COUNT(*) > 0;
UPDATE deal_line SET price_minor = GREATEST(0, price_minor) WHERE NOT (price_minor >= 0);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'deal_line.quantity range', COUNT(*) FROM deal_line WHERE NOT (quantity >= 0) HAVING COUNT(*) > 0;
UPDATE deal_line SET quantity = GREATEST(0, quantity) WHERE NOT (quantity >= 0);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'deal_line.discount_percent range', COUNT(*) FROM deal_line WHERE NOT (discount_percent BETWEEN 0 AND 100) HAVING COUNT(*) > 0;
UPDATE deal_line SET discount_percent = GREATEST(0, LEAST(100, discount_percent)) WHERE NOT (discount_percent BETWEEN 0 AND 100);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'task.minutes range', COUNT(*) FROM task WHERE NOT (minutes BETWEEN 0 AND 1440) HAVING COUNT(*) > 0;
UPDATE task SET minutes = GREATEST(0, LEAST(1440, minutes)) WHERE NOT (minutes BETWEEN 0 AND 1440);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'task.times_moved range', COUNT(*) FROM task WHERE NOT (times_moved >= 0) HAVING COUNT(*) > 0;
UPDATE task SET times_moved = GREATEST(0, times_moved) WHERE NOT (times_moved >= 0);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'journal_entry.minutes range', COUNT(*) FROM journal_entry WHERE NOT (minutes BETWEEN 0 AND 1440) HAVING COUNT(*) > 0;
UPDATE journal_entry SET minutes = GREATEST(0, LEAST(1440, minutes)) WHERE NOT (minutes BETWEEN 0 AND 1440);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'contact.check_in_days range', COUNT(*) FROM contact WHERE NOT (check_in_days BETWEEN 1 AND 3650) HAVING COUNT(*) > 0;
UPDATE contact SET check_in_days = GREATEST(1, LEAST(3650, check_in_days)) WHERE NOT (check_in_days BETWEEN 1 AND 3650);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'standing.check_in_days range', COUNT(*) FROM standing WHERE NOT (check_in_days BETWEEN 1 AND 3650) HAVING COUNT(*) > 0;
UPDATE standing SET check_in_days = GREATEST(1, LEAST(3650, check_in_days)) WHERE NOT (check_in_days BETWEEN 1 AND 3650);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'meeting.travel_minutes range', COUNT(*) FROM meeting WHERE NOT (travel_minutes BETWEEN 0 AND 1440) HAVING COUNT(*) > 0;
UPDATE meeting SET travel_minutes = GREATEST(0, LEAST(1440, travel_minutes)) WHERE NOT (travel_minutes BETWEEN 0 AND 1440);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'app_user.monthly_quota_minor range', COUNT(*) FROM app_user WHERE NOT (monthly_quota_minor >= 0) HAVING COUNT(*) > 0;
UPDATE app_user SET monthly_quota_minor = GREATEST(0, monthly_quota_minor) WHERE NOT (monthly_quota_minor >= 0);

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'meeting order', COUNT(*) FROM meeting WHERE ends_at <= starts_at HAVING COUNT(*) > 0;
UPDATE meeting SET ends_at = starts_at + INTERVAL 30 MINUTE WHERE ends_at <= starts_at;

INSERT IGNORE INTO migration_report (migration, step, mended)
  SELECT 14, 'stay order', COUNT(*) FROM stage_stay WHERE left_at < entered_at HAVING COUNT(*) > 0;
UPDATE stage_stay SET left_at = entered_at WHERE left_at < entered_at;

ALTER TABLE agreement
  ADD CONSTRAINT IF NOT EXISTS agreement_value_minor_range CHECK (value_minor >= 0),
  ADD CONSTRAINT IF NOT EXISTS agreement_term_months_range CHECK (term_months BETWEEN 1 AND 240),
  ADD CONSTRAINT IF NOT EXISTS agreement_notice_days_range CHECK (notice_days >= 0),
  ADD CONSTRAINT IF NOT EXISTS agreement_lead_days_range CHECK (lead_days >= 0),
  ADD CONSTRAINT IF NOT EXISTS agreement_days_in_order CHECK (ends_on >= starts_on AND notice_deadline_on <= ends_on AND lead_on <= notice_deadline_on);
ALTER TABLE app_user
  ADD CONSTRAINT IF NOT EXISTS app_user_monthly_quota_minor_range CHECK (monthly_quota_minor >= 0);
ALTER TABLE channel_fact
  ADD CONSTRAINT IF NOT EXISTS channel_fact_channel_word CHECK (channel IN ('call', 'email', 'text', 'meeting', 'visit', 'other'));
ALTER TABLE contact
  ADD CONSTRAINT IF NOT EXISTS contact_check_in_days_range CHECK (check_in_days BETWEEN 1 AND 3650),
  ADD CONSTRAINT IF NOT EXISTS contact_next_step_channel_word CHECK (next_step_channel IN ('call', 'email', 'text', 'meeting', 'visit', 'other'));
ALTER TABLE deal
  ADD CONSTRAINT IF NOT EXISTS deal_amount_minor_range CHECK (amount_minor >= 0),
  ADD CONSTRAINT IF NOT EXISTS deal_win_probability_range CHECK (win_probability BETWEEN 0 AND 1),
  ADD CONSTRAINT IF NOT EXISTS deal_next_step_channel_word CHECK (next_step_channel IN ('call', 'email', 'text', 'meeting', 'visit', 'other'));
ALTER TABLE deal_line
  ADD CONSTRAINT IF NOT EXISTS deal_line_price_minor_range CHECK (price_minor >= 0),
  ADD CONSTRAINT IF NOT EXISTS deal_line_quantity_range CHECK (quantity >= 0),
  ADD CONSTRAINT IF NOT EXISTS deal_line_discount_percent_range CHECK (discount_percent BETWEEN 0 AND 100);
ALTER TABLE do_not_contact
  ADD CONSTRAINT IF NOT EXISTS do_not_contact_channel_word CHECK (channel IN ('call', 'email', 'text', 'meeting', 'visit', 'other'));
ALTER TABLE journal_entry
  ADD CONSTRAINT IF NOT EXISTS journal_entry_minutes_range CHECK (minutes BETWEEN 0 AND 1440),
  ADD CONSTRAINT IF NOT EXISTS journal_entry_kind_word CHECK (kind IN ('call', 'email', 'text', 'meeting', 'visit', 'other', 'note', 'system'));
ALTER TABLE mail
  ADD CONSTRAINT IF NOT EXISTS mail_state_word CHECK (state IN ('waiting', 'handing-over', 'sent', 'failed', 'held', 'withdrawn', 'unfiled', 'filed', 'let-go')),
  ADD CONSTRAINT IF NOT EXISTS mail_kind_word CHECK (kind IN ('human', 'automatic', 'out-of-office', 'bounce', 'unsubscribe'));
ALTER TABLE meeting
  ADD CONSTRAINT IF NOT EXISTS meeting_travel_minutes_range CHECK (travel_minutes BETWEEN 0 AND 1440),
  ADD CONSTRAINT IF NOT EXISTS meeting_ends_later CHECK (ends_at > starts_at);
ALTER TABLE phone_call
  ADD CONSTRAINT IF NOT EXISTS phone_call_state_word CHECK (state IN ('dialling', 'ringing', 'answered', 'ended', 'failed')),
  ADD CONSTRAINT IF NOT EXISTS phone_call_result_word CHECK (result IN ('answered', 'no-answer', 'busy', 'voicemail', 'wrong-number', 'failed'));
ALTER TABLE product
  ADD CONSTRAINT IF NOT EXISTS product_price_minor_range CHECK (price_minor >= 0);
ALTER TABLE run_step
  ADD CONSTRAINT IF NOT EXISTS run_step_channel_word CHECK (channel IN ('call', 'email', 'text', 'meeting', 'visit', 'other'));
ALTER TABLE stage
  ADD CONSTRAINT IF NOT EXISTS stage_win_probability_range CHECK (win_probability BETWEEN 0 AND 1),
  ADD CONSTRAINT IF NOT EXISTS stage_patience_days_range CHECK (patience_days >= 1);
ALTER TABLE stage_stay
  ADD CONSTRAINT IF NOT EXISTS stay_ends_later CHECK (left_at IS NULL OR left_at >= entered_at);
ALTER TABLE standing
  ADD CONSTRAINT IF NOT EXISTS standing_check_in_days_range CHECK (check_in_days BETWEEN 1 AND 3650);
ALTER TABLE task
  ADD CONSTRAINT IF NOT EXISTS task_minutes_range CHECK (minutes BETWEEN 0 AND 1440),
  ADD CONSTRAINT IF NOT EXISTS task_times_moved_range CHECK (times_moved >= 0),
  ADD CONSTRAINT IF NOT EXISTS task_channel_word CHECK (channel IN ('call', 'email', 'text', 'meeting', 'visit', 'other'));
ALTER TABLE text_message
  ADD CONSTRAINT IF NOT EXISTS text_message_state_word CHECK (state IN ('waiting', 'sent', 'delivered', 'failed', 'withdrawn', 'filed', 'unfiled'));
