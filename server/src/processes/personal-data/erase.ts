import type { ContactId } from '@kettle/contract';
import { customWith } from '../../records/fields/index';
import { sayCount } from '@kettle/core/locale';
import { Rows } from '../../activity/changes/index';
import type { Row } from '../../platform/database/schema.generated';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf } from '../../platform/ids';
import { enqueue } from '../../platform/jobs/job-table';
import { Problem } from '../../platform/problem';
import { rowKeyOf } from '../../platform/work/written';
import type { Work } from '../../platform/work/work';
import { noteSecurity } from '../../records/security/index';
import { removeReferring, removeRow } from '../removal/index';
import { markErased } from '../../records/erased/index';
import { looseRows, pointsOf } from './collect';
import { keptWithout, namesOnlyOfPerson } from './fates';
import { purgeKind } from './purge';

export const namelessName = 'Erased person';

/**
 * Deletes what is held of a person. Where a deal or an agreement hangs on them a nameless row stays in their place. What a change keeps for
 * undoing, and what tells of it, is purged right after, so that nothing brings them back.
 * @throws Problem `not-found`
 */
export async function erasePerson(w: Work, contactId: ContactId): Promise<void> {
  const [person] = await w.rows<Row<'contact', 'id'>>('SELECT id FROM contact WHERE id = :id FOR UPDATE', {
    id: bytesOf(contactId),
  });
  if (!person) throw new Problem('not-found');
  const rows = await Rows.open(w, w.services.database);
  const loose = await looseRows(w, contactId);
  await markErased(
    w,
    (await pointsOf(w, contactId)).map(({ value }) => value),
  );
  const key = rowKeyOf(contactId);
  const merged = await w.rows<Row<'contact_merge', 'gone_id'>>(
    'SELECT gone_id FROM contact_merge WHERE kept_id = :id',
    { id: bytesOf(contactId) },
  );
  const arrivals = await w.rows<Row<'mail', 'arrival_id'>>(
    'SELECT arrival_id FROM mail WHERE (contact_id = :id OR id IN (:loose)) AND arrival_id IS NOT NULL',
    { id: bytesOf(contactId), loose: [contactId, ...(loose.mail ?? [])].map((id) => bytesOf(id)) },
  );
  // An appointment of the past stays in its owner's day; its title may name the person.
  await w.change(
    "UPDATE appointment SET title = 'Meeting', place = NULL, note = NULL WHERE contact_id = :id",
    {
      id: bytesOf(contactId),
    },
  );
  await w.change(
    "UPDATE invited SET title = 'Meeting', place = NULL WHERE id IN (SELECT invited_id FROM invitation WHERE contact_id = :id)",
    { id: bytesOf(contactId) },
  );
  const ofDeals =
    'quote_id IN (SELECT q.id FROM quote q JOIN deal d ON d.id = q.deal_id WHERE d.contact_id = :id)';
  await w.change(`DELETE FROM quote_question WHERE ${ofDeals}`, { id: bytesOf(contactId) });
  await w.change(
    `UPDATE quote_version SET content = JSON_SET(content, '$.customer', JSON_ARRAY()) WHERE ${ofDeals}`,
    { id: bytesOf(contactId) },
  );
  await w.change(
    `UPDATE invoice SET content = JSON_SET(content, '$.person', '') WHERE deal_id IN (SELECT id FROM deal WHERE contact_id = :id)`,
    { id: bytesOf(contactId) },
  );
  await w.change(
    `UPDATE quote q JOIN deal d ON d.id = q.deal_id SET q.decided_name = NULL, q.decided_words = '' WHERE d.contact_id = :id`,
    { id: bytesOf(contactId) },
  );
  for (const table of ['mail', 'phone_call', 'text_message', 'stirring', 'contact_merge'])
    for (const id of loose[table] ?? [])
      if ((await rows.read(table, rowKeyOf(id))) !== null)
        await removeRow(rows, { table, key: rowKeyOf(id), names: namesOnlyOfPerson });
  await w.change(`DELETE FROM custom_value WHERE ${customWith}`, { id: bytesOf(contactId) });
  await removeReferring(rows, { table: 'contact', key, names: namesOnlyOfPerson }, (each) =>
    keptWithout.has(each),
  );
  if (await isNeeded(w, contactId)) await empty(w, contactId);
  else await rows.remove('contact', key);
  await w.change('DELETE FROM notification WHERE path LIKE :path', { path: `/people/${contactId}%` });
  if (arrivals.length > 0)
    await w.change('DELETE FROM mail_arrival WHERE id IN (:ids)', {
      ids: arrivals.map((row) => row.arrival_id!),
    });
  await enqueue(w, {
    kind: purgeKind,
    dedupeKey: `${purgeKind}:${w.id}`,
    payload: { setId: w.id, contactIds: [contactId, ...merged.map((row) => idOf<string>(row.gone_id))] },
    dueAt: w.now,
  });
  await noteSecurity(w, { kind: 'erased', userId: w.who?.id ?? null, data: { mails: arrivals.length } });
  w.say($localize`A person’s data erased`);
}

async function isNeeded(w: Work, contactId: string): Promise<boolean> {
  const rows = await w.rows(
    'SELECT 1 FROM deal WHERE contact_id = :id UNION ALL SELECT 1 FROM agreement WHERE contact_id = :id LIMIT 1',
    { id: bytesOf(contactId) },
  );
  return rows.length > 0;
}

/** A row without anything of the person, for the deals and agreements that must point at somebody. */
async function empty(w: Work, contactId: string): Promise<void> {
  await w.change(
    `UPDATE contact SET given_name = '', family_name = :name, sort_name = LOWER(:name), job_title = NULL, company_id = NULL, site_id = NULL,
            company_name = NULL, email = NULL, email_label = NULL, phone = NULL, phone_label = NULL, email_unusable = FALSE,
            phone_unusable = FALSE, check_in_days = NULL, source = NULL, warmth = NULL, about = '', import_id = NULL,
            archived_at = COALESCE(archived_at, :now), version = version + 1
      WHERE id = :id`,
    { id: bytesOf(contactId), name: namelessName, now: sqlInstant(w.now) },
  );
}

/** Of whom a deal or agreement would be kept, in words. */
export async function keptOf(
  w: Pick<Work, 'rows'>,
  contactId: string,
): Promise<{ words: string; why: string }[]> {
  const [counts] = await w.rows<{ deals: number; agreements: number }>(
    `SELECT (SELECT COUNT(*) FROM deal WHERE contact_id = :id) AS deals,
            (SELECT COUNT(*) FROM agreement WHERE contact_id = :id) AS agreements`,
    { id: bytesOf(contactId) },
  );
  const kept = [];
  if (Number(counts!.deals) > 0)
    kept.push({
      words: $localize`${sayCount(Number(counts!.deals), 'deal|deals')}:deals: without the name`,
      why: $localize`what was bought, when and for how much must be kept as a business record`,
    });
  if (Number(counts!.agreements) > 0)
    kept.push({
      words: $localize`${sayCount(Number(counts!.agreements), 'agreement|agreements')}:agreements: without the name`,
      why: $localize`what was agreed must be kept as a business record`,
    });
  kept.push(
    {
      words: $localize`a keyed mark of each address and number, from which nobody reads it`,
      why: $localize`so that a file that brings them again is stopped`,
    },
    {
      words: $localize`that somebody was erased, when and by whom`,
      why: $localize`to show that it was done; no name is in it`,
    },
    { words: 'backups', why: $localize`they are not changed; they go when you delete them` },
  );
  return kept;
}
