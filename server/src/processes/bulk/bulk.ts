import { actingAs, work, type PersonWork, type Work } from '../../platform/work/work';
import { undoDays, undoPart } from '../../activity/changes/index';
import type { BulkAct, BulkPlan, BulkProgress, Selection, startBulk } from '@kettle/contract';
import { bulkAct } from '@kettle/contract';
import * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import { instantOf, jsonOf, sqlInstant, wholeNumber } from '../../platform/database/values';
import { Problem } from '../../platform/problem';
import { bytesOf, idOf, idOrNull } from '../../platform/ids';
import { enqueue } from '../../platform/jobs/job-table';
import type { JobKind } from '../../platform/jobs/worker';
import type { Services } from '../../platform/services';
import { filterSetting, readContact, readContactIds, readContactRows } from '../../records/contacts/index';
import { type SignedIn, mayChange, readPerson, todayOf } from '../../records/users/index';
import { carryOut, speechOf, stepFor } from './bulk-act';
import type { Row } from '../../platform/database/schema.generated';

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
  const { database, clock } = services;
  const ids = await selectedIds(services, who, body.selection);
  if (ids.length === 0) throw new Problem('nobody-to-reach');
  const words = (await speechOf(database)).words(body.act, ids.length);
  await work(services, who, async (w) => {
    const now = clock.now();
    const isNew = await w.change(
      'INSERT IGNORE INTO bulk (id, user_id, words, act, set_id, created_at) VALUES (:id, :user, :words, :act, :set, :now)',
      {
        id: bytesOf(body.id),
        user: bytesOf(who.id),
        words: words.slice(0, 200),
        act: JSON.stringify(body.act),
        set: bytesOf(w.id),
        now: sqlInstant(now),
      },
    );
    if (isNew === 0) return;
    for (let from = 0; from < ids.length; from += 1000)
      await w.change('INSERT INTO bulk_item (bulk_id, contact_id, position) VALUES :rows', {
        rows: ids.slice(from, from + 1000).map((id, index) => [bytesOf(body.id), id, from + index]),
      });
    await askForParts(w, { kind: bulkKind, bulkId: body.id, setId: w.id, count: ids.length });
    w.say(words);
  });
}

async function askForParts(
  w: Work,
  {
    kind,
    bulkId,
    setId,
    count,
  }: { readonly kind: string; readonly bulkId: string; readonly setId: string; readonly count: number },
): Promise<void> {
  for (let from = 0; from < count; from += contactsInPart)
    await enqueue(w, {
      kind,
      dedupeKey: `${kind}:${bulkId}:${from}`,
      payload: { bulkId, from, setId },
      dueAt: w.now,
    });
}

const payloadShape = z.object({ bulkId: z.uuid(), from: z.int().min(0), setId: z.uuid() });

/** What the change set of one part is called. */
const partName = (from: number) => `part ${from}`;

interface StoredBulk {
  readonly act: BulkAct;
  readonly userId: string;
}

async function readStored(
  db: Queryable,
  bulkId: string,
): Promise<StoredBulk & { state: BulkProgress['state']; words: string; at: string; setId: string | null }> {
  const [row] = await db.rows<Row<'bulk', 'user_id' | 'act' | 'state' | 'words' | 'created_at' | 'set_id'>>(
    'SELECT user_id, act, state, words, created_at, set_id FROM bulk WHERE id = :id',
    {
      id: bytesOf(bulkId),
    },
  );
  if (!row) throw new Problem('not-found');
  return {
    act: bulkAct.parse(jsonOf(row.act)),
    userId: idOf(row.user_id),
    state: row.state,
    words: row.words,
    at: instantOf(row.created_at),
    setId: idOrNull(row.set_id),
  };
}

async function readItems(tx: Queryable, bulkId: string, from: number, states: readonly string[]) {
  return tx.rows<Row<'bulk_item', 'contact_id'>>(
    `SELECT contact_id FROM bulk_item
      WHERE bulk_id = :bulk AND position >= :from AND position < :to AND state IN (:states) ORDER BY position`,
    { bulk: bytesOf(bulkId), from, to: from + contactsInPart, states },
  );
}

async function markItem(
  tx: Queryable,
  bulkId: string,
  contactId: Buffer,
  mark: { state: string; reason?: string },
): Promise<void> {
  await tx.change(
    `UPDATE bulk_item SET state = :state, reason = :reason
      WHERE bulk_id = :bulk AND contact_id = :contact`,
    {
      bulk: bytesOf(bulkId),
      contact: contactId,
      state: mark.state,
      reason: mark.reason?.slice(0, 300) ?? null,
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
export const bulkJob: JobKind = {
  words: 'one part of a change of many',
  effect: 'database',
  lane: 'bulk',
  run: async (w, payload) => {
    const { bulkId, from, setId } = payloadShape.parse(payload);
    w.partOf(setId, partName(from));
    const { act, userId } = await readStored(w, bulkId);
    const own = actingAs(w, await readPerson(w, userId as SignedIn['id']));
    for (const item of await readItems(w, bulkId, from, ['waiting']))
      await markItem(w, bulkId, item.contact_id, await changeOne(own, item.contact_id, act, bulkId));
    await settle(w, bulkId, ['waiting'], 'done');
    w.note('bulk', bulkId);
  },
};

async function changeOne(
  w: PersonWork,
  id: Buffer,
  act: BulkAct,
  bulkId: string,
): Promise<{ state: string; reason?: string }> {
  // What a refused change had written already is rolled back, without the others.
  await w.change('SAVEPOINT one');
  try {
    const contact = await readContact(w, idOf(id));
    if (!mayChange(w.who, contact.ownerId))
      return { state: 'failed', reason: `belongs to ${contact.ownerName ?? 'a colleague'}` };
    if (stepFor(contact, act).isSame) return { state: 'same' };
    await carryOut(w, contact, act, bulkId);
    return { state: 'changed' };
  } catch (error) {
    if (!(error instanceof Problem) || error.code === 'database-away') throw error;
    await w.change('ROLLBACK TO SAVEPOINT one');
    return { state: 'failed', reason: error.fields?.[0]?.message ?? error.message };
  }
}

/** Asks for a bulk change to be undone, part by part, for 30 days. */
export async function beginUndo(services: Services, who: SignedIn, bulkId: string): Promise<void> {
  await work(services, who, async (w) => {
    const { userId, at, setId } = await readStored(w, bulkId);
    if (userId !== who.id) throw new Problem('not-found');
    if (setId === null) throw new Problem('undo-expired');
    if (Date.parse(w.now) - Date.parse(at) > undoDays * 86_400_000) throw new Problem('undo-expired');
    const begun = await w.change("UPDATE bulk SET state = 'undoing' WHERE id = :id AND state = 'done'", {
      id: bytesOf(bulkId),
    });
    if (begun === 0) throw new Problem('already-done');
    const [count] = await w.rows<{ count: string }>(
      'SELECT COUNT(*) AS count FROM bulk_item WHERE bulk_id = :id',
      { id: bytesOf(bulkId) },
    );
    await askForParts(w, { kind: bulkUndoKind, bulkId, setId, count: wholeNumber(count?.count ?? 0) });
    await w.change('UPDATE change_set SET undone_by_id = :by WHERE id = :id', {
      by: bytesOf(w.id),
      id: bytesOf(setId),
    });
  });
}

/** Undoes one part of a bulk change, by the rights of whoever made it; a contact that was changed since stays as it is now. */
export const bulkUndoJob: JobKind = {
  words: 'undoing one part of a change of many',
  effect: 'database',
  lane: 'bulk',
  run: async (w, payload) => {
    const { bulkId, from, setId } = payloadShape.parse(payload);
    const { userId } = await readStored(w, bulkId);
    const own = actingAs(w, await readPerson(w, userId as SignedIn['id']));
    const { isKnown, kept } = await undoPart(own, setId, partName(from));
    const items = await readItems(w, bulkId, from, ['changed']);
    if (!isKnown && items.length > 0)
      throw new Error(`bulk ${bulkId}: what ${partName(from)} changed is not known`);
    for (const item of items) {
      const reason = kept.get(idOf(item.contact_id));
      const mark = reason === undefined ? { state: 'undone' } : { state: 'kept', reason };
      await markItem(w, bulkId, item.contact_id, mark);
    }
    await settle(w, bulkId, ['waiting', 'changed'], 'undone');
    w.note('bulk', bulkId);
  },
};

const failuresShown = 200;

/** How far it is; whoever asked for it may look. @throws Problem `not-found` */
export async function readProgress(db: Queryable, who: SignedIn, bulkId: string): Promise<BulkProgress> {
  const stored = await readStored(db, bulkId);
  if (stored.userId !== who.id && who.role === 'rep') throw new Problem('not-found');
  const counts = await db.rows<Row<'bulk_item', 'state'> & { count: string }>(
    'SELECT state, COUNT(*) AS count FROM bulk_item WHERE bulk_id = :id GROUP BY state',
    { id: bytesOf(bulkId) },
  );
  const of = (state: string) => wholeNumber(counts.find((row) => row.state === state)?.count ?? 0);
  const failed = await db.rows<Row<'bulk_item', 'contact_id' | 'reason'> & { name: string }>(
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
