import { type BulkAct, type BulkProgress, bulkAct } from '@kettle/contract';
import * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { instantOf, jsonOf } from '../../platform/database/values';
import { bytesOf, idOf, idOrNull } from '../../platform/ids';
import { enqueue } from '../../platform/jobs/job-table';
import { Problem } from '../../platform/problem';
import type { Work } from '../../platform/work/work';
import type { SignedIn } from '../../records/users/index';

const contactsInPart = 100;
export const bulkKind = 'bulk-part';
export const bulkUndoKind = 'bulk-undo-part';

/** What the keys of a bulk change's parts begin with. */
export const partKeys = (kind: string, bulkId: string) => `${kind}:${bulkId}:`;

/** Asks for the work on `count` contacts, part by part. */
export async function askForParts(
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
      dedupeKey: `${partKeys(kind, bulkId)}${from}`,
      payload: { bulkId, from, setId },
      dueAt: w.now,
    });
}

export const payloadShape = z.object({ bulkId: z.uuid(), from: z.int().min(0), setId: z.uuid() });

/** What the change set of one part is called. */
export const partName = (from: number) => `part ${from}`;

export interface StoredBulk {
  readonly userId: SignedIn['id'];
  readonly act: BulkAct;
  readonly state: BulkProgress['state'];
  readonly words: string;
  readonly at: string;
  readonly setId: string | null;
}

const columns = 'user_id, act, state, words, created_at, set_id';

/** @throws Problem `not-found` */
export async function readStored(db: Queryable, bulkId: string): Promise<StoredBulk> {
  return stored(
    await db.rows<StoredRow>(`SELECT ${columns} FROM bulk WHERE id = :id`, { id: bytesOf(bulkId) }),
  );
}

/** Holds it until the transaction ends: of carrying out, trying again and undoing only one is at it. @throws Problem `not-found` */
export async function lockStored(tx: Queryable, bulkId: string): Promise<StoredBulk> {
  return stored(
    await tx.rows<StoredRow>(`SELECT ${columns} FROM bulk WHERE id = :id FOR UPDATE`, {
      id: bytesOf(bulkId),
    }),
  );
}

type StoredRow = Row<'bulk', 'user_id' | 'act' | 'state' | 'words' | 'created_at' | 'set_id'>;

function stored([row]: readonly StoredRow[]): StoredBulk {
  if (!row) throw new Problem('not-found');
  return {
    userId: idOf(row.user_id),
    act: bulkAct.parse(jsonOf(row.act)),
    state: row.state,
    words: row.words,
    at: instantOf(row.created_at),
    setId: idOrNull(row.set_id),
  };
}

/** Contacts of one part in these states. */
export async function readItems(tx: Queryable, bulkId: string, from: number, states: readonly string[]) {
  return tx.rows<Row<'bulk_item', 'contact_id'>>(
    `SELECT contact_id FROM bulk_item
      WHERE bulk_id = :bulk AND position >= :from AND position < :to AND state IN (:states) ORDER BY position`,
    { bulk: bytesOf(bulkId), from, to: from + contactsInPart, states },
  );
}

export async function markItem(
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

/** Ends a bulk change when nobody waits any more. */
export async function settle(
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
