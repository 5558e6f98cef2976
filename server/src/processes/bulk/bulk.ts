import type {
  BulkAct,
  BulkPlan,
  BulkProgress,
  CellValue,
  ContactId,
  Selection,
  startBulk,
} from '@kettle/contract';
import { bulkAct } from '@kettle/contract';
import * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import { instantOf, jsonOf, sqlInstant, wholeNumber } from '../../platform/database/values';
import { Problem } from '../../platform/http/problem';
import { bytesOf, idOf, type IdBytes } from '../../platform/ids';
import { enqueue } from '../../platform/jobs/job-table';
import type { JobKind } from '../../platform/jobs/worker';
import type { Services } from '../../platform/services';
import { noteChange } from '../../platform/change-feed/feed';
import { cellOf, writeCell } from '../../records/contacts/change-contact';
import { readContact, readContactRows } from '../../records/contacts/contact-rows';
import { filterSetting, readContactIds } from '../../records/contacts/list-contacts';
import { mayChange } from '../../records/users/rights';
import { readPerson } from '../../records/users/users';
import type { SignedIn } from '../../records/users/session';
import { todayOf } from '../../records/users/today';
import { carryOut, sameValue, speechOf, stepFor, takeTasksBack } from './bulk-act';

type Body = z.output<typeof startBulk>;

const mostContacts = 50_000;
const contactsInPart = 100;
const rowsAtOnce = 1000;
const samplesShown = 5;
export const bulkKind = 'bulk-part';
export const bulkUndoKind = 'bulk-undo-part';

async function selectedIds(services: Services, who: SignedIn, selection: Selection): Promise<Buffer[]> {
  const { database } = services;
  if ('ids' in selection) return selection.ids.map((id) => bytesOf(id));
  const setting = await filterSetting(database, selection.query, who, todayOf(services, who));
  return readContactIds(database, selection.query, setting, mostContacts);
}

/** What a bulk change would do, without doing it. */
export async function planBulk(services: Services, who: SignedIn, body: Body): Promise<BulkPlan> {
  const { database } = services;
  const ids = await selectedIds(services, who, body.selection);
  if (ids.length === 0) throw new Problem('nobody-to-reach');
  const speech = await speechOf(database);
  const refused = new Map<string, number>();
  let same = 0;
  const samples: BulkPlan['samples'] = [];
  for (let from = 0; from < ids.length; from += rowsAtOnce)
    for (const row of await readContactRows(database, ids.slice(from, from + rowsAtOnce))) {
      if (!mayChange(who, row.ownerId)) {
        const reason = `belongs to ${row.ownerName ?? 'a colleague'}`;
        refused.set(reason, (refused.get(reason) ?? 0) + 1);
        continue;
      }
      const step = stepFor(row, body.act);
      if (step.isSame) same += 1;
      else if (samples.length < samplesShown)
        samples.push({
          contactId: row.id,
          name: row.name,
          before: step.field === null ? '' : speech.say(step.before),
          after: speech.say(step.after),
        });
    }
  const refusedCount = [...refused.values()].reduce((sum, count) => sum + count, 0);
  return {
    words: speech.words(body.act, ids.length),
    changes: ids.length - same - refusedCount,
    same,
    refused: [...refused].map(([reason, count]) => ({ reason, count })),
    samples,
  };
}

/** Writes down whom it is about and asks for the work, in one transaction; the same id sent again changes nothing. */
export async function beginBulk(services: Services, who: SignedIn, body: Body): Promise<void> {
  const { database, clock, feed } = services;
  const ids = await selectedIds(services, who, body.selection);
  if (ids.length === 0) throw new Problem('nobody-to-reach');
  const words = (await speechOf(database)).words(body.act, ids.length);
  await database.transaction(async (tx) => {
    const now = clock.now();
    const isNew = await tx.change(
      'INSERT IGNORE INTO bulk (id, user_id, words, act, created_at) VALUES (:id, :user, :words, :act, :now)',
      {
        id: bytesOf(body.id),
        user: bytesOf(who.id),
        words: words.slice(0, 200),
        act: JSON.stringify(body.act),
        now: sqlInstant(now),
      },
    );
    if (isNew === 0) return;
    for (let from = 0; from < ids.length; from += 1000)
      await tx.change('INSERT INTO bulk_item (bulk_id, contact_id, position) VALUES :rows', {
        rows: ids.slice(from, from + 1000).map((id, index) => [bytesOf(body.id), id, from + index]),
      });
    await askForParts(tx, bulkKind, body.id, ids.length, now);
  });
  feed.poke();
}

async function askForParts(
  tx: Queryable,
  kind: string,
  bulkId: string,
  count: number,
  now: string,
): Promise<void> {
  for (let from = 0; from < count; from += contactsInPart)
    await enqueue(tx, {
      kind,
      dedupeKey: `${kind}:${bulkId}:${from}`,
      payload: { bulkId, from },
      dueAt: now,
    });
}

const payloadShape = z.object({ bulkId: z.uuid(), from: z.int().min(0) });

interface StoredBulk {
  readonly act: BulkAct;
  readonly userId: string;
}

async function readStored(
  db: Queryable,
  bulkId: string,
): Promise<StoredBulk & { state: BulkProgress['state']; words: string; at: string }> {
  const [row] = await db.rows<{
    user_id: IdBytes;
    act: string;
    state: BulkProgress['state'];
    words: string;
    created_at: string;
  }>('SELECT user_id, act, state, words, created_at FROM bulk WHERE id = :id', { id: bytesOf(bulkId) });
  if (!row) throw new Problem('not-found');
  return {
    act: bulkAct.parse(jsonOf(row.act)),
    userId: idOf(row.user_id),
    state: row.state,
    words: row.words,
    at: instantOf(row.created_at),
  };
}

async function readItems(tx: Queryable, bulkId: string, from: number, states: readonly string[]) {
  return tx.rows<{ contact_id: IdBytes; before_value: string | null }>(
    `SELECT contact_id, before_value FROM bulk_item
      WHERE bulk_id = :bulk AND position >= :from AND position < :to AND state IN (:states) ORDER BY position`,
    { bulk: bytesOf(bulkId), from, to: from + contactsInPart, states },
  );
}

async function markItem(
  tx: Queryable,
  bulkId: string,
  contactId: Buffer,
  mark: { state: string; reason?: string; before?: CellValue },
): Promise<void> {
  await tx.change(
    `UPDATE bulk_item SET state = :state, reason = :reason, before_value = COALESCE(:before, before_value)
      WHERE bulk_id = :bulk AND contact_id = :contact`,
    {
      bulk: bytesOf(bulkId),
      contact: contactId,
      state: mark.state,
      reason: mark.reason?.slice(0, 300) ?? null,
      before: mark.before === undefined ? null : JSON.stringify({ value: mark.before }),
    },
  );
}

/** Ends a bulk when its last part is done: nobody waits any more. */
async function settle(
  tx: Queryable,
  bulkId: string,
  waitingStates: readonly string[],
  state: string,
): Promise<void> {
  await tx.change(
    `UPDATE bulk SET state = :state WHERE id = :id AND NOT EXISTS
       (SELECT 1 FROM bulk_item i WHERE i.bulk_id = :id AND i.state IN (:waiting))`,
    { id: bytesOf(bulkId), state, waiting: waitingStates },
  );
}

/** One part of a bulk change. A contact that cannot be changed is marked with the reason, the others go on. */
export function bulkJob(services: Services): JobKind {
  return {
    effect: 'database',
    run: async (tx, payload) => {
      const { bulkId, from } = payloadShape.parse(payload);
      const { act, userId } = await readStored(tx, bulkId);
      const who = await readPerson(tx, userId as SignedIn['id']);
      for (const item of await readItems(tx, bulkId, from, ['waiting'])) {
        const mark = await changeOne(tx, services, who, item.contact_id, act, bulkId);
        await markItem(tx, bulkId, item.contact_id, mark);
      }
      await settle(tx, bulkId, ['waiting'], 'done');
      await noteChange(tx, 'bulk', bulkId, userId);
    },
  };
}

async function changeOne(
  tx: Queryable,
  services: Services,
  who: SignedIn,
  id: Buffer,
  act: BulkAct,
  bulkId: string,
): Promise<{ state: string; reason?: string; before?: CellValue }> {
  // What a refused change had written already is taken back, without the others.
  await tx.change('SAVEPOINT one');
  try {
    const contact = await readContact(tx, idOf(id));
    if (!mayChange(who, contact.ownerId))
      return { state: 'failed', reason: `belongs to ${contact.ownerName ?? 'a colleague'}` };
    const step = stepFor(contact, act);
    if (step.isSame) return { state: 'same' };
    await carryOut(tx, services, who, contact, act, bulkId);
    return { state: 'changed', before: step.before };
  } catch (error) {
    if (!(error instanceof Problem) || error.code === 'database-away') throw error;
    await tx.change('ROLLBACK TO SAVEPOINT one');
    return { state: 'failed', reason: error.fields?.[0]?.message ?? error.message };
  }
}

export async function beginUndo(services: Services, who: SignedIn, bulkId: string): Promise<void> {
  const { database, clock, feed } = services;
  await database.transaction(async (tx) => {
    const { userId } = await readStored(tx, bulkId);
    if (userId !== who.id) throw new Problem('not-found');
    const begun = await tx.change("UPDATE bulk SET state = 'undoing' WHERE id = :id AND state = 'done'", {
      id: bytesOf(bulkId),
    });
    if (begun === 0) throw new Problem('already-done');
    const [count] = await tx.rows<{ count: string }>(
      'SELECT COUNT(*) AS count FROM bulk_item WHERE bulk_id = :id',
      {
        id: bytesOf(bulkId),
      },
    );
    await askForParts(tx, bulkUndoKind, bulkId, wholeNumber(count?.count ?? 0), clock.now());
  });
  feed.poke();
}

/** One part of taking a bulk change back; a contact that was changed since stays as it is now. */
export function bulkUndoJob(services: Services): JobKind {
  return {
    effect: 'database',
    run: async (tx, payload) => {
      const { bulkId, from } = payloadShape.parse(payload);
      const { act, userId } = await readStored(tx, bulkId);
      const who = await readPerson(tx, userId as SignedIn['id']);
      for (const item of await readItems(tx, bulkId, from, ['changed']))
        await markItem(tx, bulkId, item.contact_id, await undoOne(tx, services, who, item, act, bulkId));
      await settle(tx, bulkId, ['waiting', 'changed'], 'undone');
      await noteChange(tx, 'bulk', bulkId, userId);
    },
  };
}

async function undoOne(
  tx: Queryable,
  services: Services,
  who: SignedIn,
  item: { contact_id: Buffer; before_value: string | null },
  act: BulkAct,
  bulkId: string,
): Promise<{ state: string; reason?: string }> {
  const id = idOf<ContactId>(item.contact_id);
  await tx.change('SAVEPOINT one');
  try {
    if (act.kind === 'task')
      return (await takeTasksBack(tx, bulkId, id, services.clock.now()))
        ? { state: 'undone' }
        : { state: 'kept', reason: 'the task was worked on since' };
    const contact = await readContact(tx, id);
    const before = (jsonOf(item.before_value) as { value: CellValue }).value;
    const field = act.kind === 'set' ? act.field : 'tags';
    const step = stepFor({ ...contact, ...(field === 'tags' ? { tags: before as string[] } : {}) }, act);
    const expected = act.kind === 'set' ? act.value : step.after;
    if (!sameValue(cellOf(contact, field), expected)) return { state: 'kept', reason: 'changed since' };
    // Whoever made the change may take it back, also when it gave the contact to somebody else.
    await writeCell(tx, services, { ...who, role: 'manager' }, contact, { field, value: before });
    return { state: 'undone' };
  } catch (error) {
    if (!(error instanceof Problem) || error.code === 'database-away') throw error;
    await tx.change('ROLLBACK TO SAVEPOINT one');
    return { state: 'kept', reason: error.message };
  }
}

const failuresShown = 200;

/** How far it is; whoever asked for it may look. @throws Problem `not-found` */
export async function readProgress(db: Queryable, who: SignedIn, bulkId: string): Promise<BulkProgress> {
  const stored = await readStored(db, bulkId);
  if (stored.userId !== who.id && who.role === 'rep') throw new Problem('not-found');
  const counts = await db.rows<{ state: string; count: string }>(
    'SELECT state, COUNT(*) AS count FROM bulk_item WHERE bulk_id = :id GROUP BY state',
    { id: bytesOf(bulkId) },
  );
  const of = (state: string) => wholeNumber(counts.find((row) => row.state === state)?.count ?? 0);
  const failed = await db.rows<{ contact_id: IdBytes; name: string; reason: string | null }>(
    `SELECT i.contact_id, COALESCE(c.display_name, 'gone') AS name, i.reason
       FROM bulk_item i LEFT JOIN contact c ON c.id = i.contact_id
      WHERE i.bulk_id = :id AND i.state = 'failed' ORDER BY i.position LIMIT ${failuresShown}`,
    { id: bytesOf(bulkId) },
  );
  return {
    id: bulkId as BulkProgress['id'],
    words: stored.words,
    state: stored.state,
    at: stored.at,
    total: counts.reduce((sum, row) => sum + wholeNumber(row.count), 0),
    waiting: stored.state === 'undoing' ? of('changed') : of('waiting'),
    changed: stored.state === 'undoing' || stored.state === 'undone' ? of('undone') : of('changed'),
    same: of('same'),
    failed: failed.map((row) => ({
      contactId: idOf(row.contact_id),
      name: row.name,
      reason: row.reason ?? '',
    })),
    failedCount: of('failed'),
    kept: of('kept'),
  };
}
