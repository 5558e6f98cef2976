import type { ContactId, RetentionKind, RetentionSettings } from '@kettle/contract';
import type { Row } from '../../platform/database/schema.generated';
import { sqlInstant } from '../../platform/database/values';
import { idOf } from '../../platform/ids';
import { enqueue } from '../../platform/jobs/job-table';
import { sweptAtOnce } from '../../platform/jobs/sweep';
import type { JobKind } from '../../platform/jobs/worker';
import type { Work } from '../../platform/work/work';
import { erasePerson } from './erase';

export const retentionKind = 'keep-retention';
const peopleAtOnce = 100;

const onEntries = {
  ...{
    entry_before: 'entry_id',
    entry_comment: 'entry_id',
    entry_person: 'entry_id',
    entry_thanks: 'entry_id',
  },
  ...{ mail: 'entry_id', text_message: 'entry_id' },
};

/** That no row of these tables refers to it any more: what hangs on it goes in parts too. */
const free = (table: string, referring: Readonly<Record<string, string>>) =>
  Object.entries(referring)
    .map(([other, column]) => `NOT EXISTS (SELECT 1 FROM ${other} o WHERE o.${column} = ${table}.id)`)
    .join(' AND ');

/** What is deleted once it is older than `:before`, each up to a number of rows; rows that hang on others come first. */
const statements: Readonly<Record<Exclude<RetentionKind, 'setAsideLeads'>, readonly string[]>> = {
  letGoMail: [
    `DELETE FROM stirring WHERE mail_id IN (SELECT id FROM mail WHERE state = 'let-go' AND at < :before)`,
    `DELETE FROM mail WHERE state = 'let-go' AND at < :before AND ${free('mail', { stirring: 'mail_id' })}`,
  ],
  rawMail: [
    `UPDATE mail SET arrival_id = NULL WHERE arrival_id IN (SELECT id FROM mail_arrival WHERE arrived_at < :before)`,
    `DELETE FROM mail_arrival WHERE arrived_at < :before AND ${free('mail_arrival', { mail: 'arrival_id' })}`,
  ],
  removed: [
    ...['entry_before', 'entry_comment', 'entry_person', 'entry_thanks'].map(
      (table) =>
        `DELETE FROM ${table} WHERE entry_id IN (SELECT id FROM journal_entry WHERE removed_at < :before)`,
    ),
    `UPDATE mail SET entry_id = NULL WHERE entry_id IN (SELECT id FROM journal_entry WHERE removed_at < :before)`,
    `UPDATE text_message SET entry_id = NULL WHERE entry_id IN (SELECT id FROM journal_entry WHERE removed_at < :before)`,
    `DELETE FROM journal_entry WHERE removed_at < :before AND ${free('journal_entry', onEntries)}`,
    `DELETE FROM stored_file WHERE removed_at < :before`,
  ],
  unknownCalls: [
    `DELETE FROM stirring WHERE contact_id IS NULL AND at < :before`,
    `DELETE FROM phone_call WHERE contact_id IS NULL AND started_at < :before`,
    `DELETE FROM text_message WHERE contact_id IS NULL AND at < :before AND ${free('text_message', { stirring: 'text_id' })}`,
  ],
  notifications: [`DELETE FROM notification WHERE created_at < :before`],
  securityLog: [`DELETE FROM security_event WHERE at < :before`],
};

/** Each night: deletes what the settings say is no longer needed. What is too much for once goes on the next part. */
export const retentionJob: JobKind = {
  words: $localize`deleting what is no longer needed`,
  effect: 'database',
  lane: 'bulk',
  isBulk: true,
  run: async (w, payload) => {
    const part = Number((payload as { part?: number }).part ?? 0);
    const { retention } = await w.settings();
    let isLeft = false;
    for (const [kind, each] of Object.entries(statements)) {
      const before = beforeOf(w, retention, kind as RetentionKind);
      if (before === null) continue;
      for (const sql of each) {
        const count = await w.change(`${sql} LIMIT ${sweptAtOnce}`, { before });
        isLeft ||= count === sweptAtOnce;
      }
    }
    const isMore = await eraseSetAside(w, beforeOf(w, retention, 'setAsideLeads'));
    isLeft ||= isMore;
    if (isLeft)
      await enqueue(w, {
        kind: retentionKind,
        dedupeKey: `${retentionKind}:${w.now.slice(0, 10)}:${part + 1}`,
        payload: { part: part + 1 },
        dueAt: w.now,
      });
  },
};

function beforeOf(w: Work, retention: RetentionSettings, kind: RetentionKind): string | null {
  const days = retention[kind];
  return days === null ? null : sqlInstant(new Date(Date.parse(w.now) - days * 86_400_000).toISOString());
}

/** People who came as a lead that was set aside, of whom nothing else is: no deal, agreement or other lead, and nothing since. */
async function eraseSetAside(w: Work, before: string | null): Promise<boolean> {
  if (before === null) return false;
  const people = await w.rows<Row<'contact', 'id'>>(
    `SELECT c.id FROM contact c JOIN sales_lead l ON l.contact_id = c.id
      WHERE l.status = 'set-aside' AND l.status_since < :before AND COALESCE(c.last_touch_at, c.created_at) < :before
        AND NOT EXISTS (SELECT 1 FROM sales_lead o WHERE o.contact_id = c.id AND (o.status <> 'set-aside' OR o.status_since >= :before))
        AND NOT EXISTS (SELECT 1 FROM deal d WHERE d.contact_id = c.id)
        AND NOT EXISTS (SELECT 1 FROM deal_person p WHERE p.contact_id = c.id)
        AND NOT EXISTS (SELECT 1 FROM agreement a WHERE a.contact_id = c.id)
      GROUP BY c.id ORDER BY c.id LIMIT ${peopleAtOnce}`,
    { before },
  );
  for (const person of people) await erasePerson(w, idOf<ContactId>(person.id));
  return people.length === peopleAtOnce;
}
