import type { BulkProgress } from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { wholeNumber } from '../../platform/database/values';
import { bytesOf, idOf } from '../../platform/ids';
import { countParts } from '../../platform/jobs/job-table';
import { Problem } from '../../platform/problem';
import type { SignedIn } from '../../records/users/index';
import { bulkKind, bulkUndoKind, partKeys, readStored } from './stored-bulk';

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
  const { state, unfinished } = await progressOf(db, bulkId, stored.state, of);
  return {
    id: bulkId as BulkProgress['id'],
    words: stored.words,
    state,
    at: stored.at,
    total: counts.reduce((sum, row) => sum + wholeNumber(row.count), 0),
    waiting: state === 'undoing' ? of('changed') : state === 'running' ? of('waiting') : 0,
    unfinished,
    changed: state === 'undoing' || state === 'undone' ? of('undone') : of('changed'),
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

/** It is over when no part is left to do; contacts of a part that failed for good are unfinished. */
async function progressOf(
  db: Queryable,
  bulkId: string,
  state: BulkProgress['state'],
  of: (state: string) => number,
): Promise<Pick<BulkProgress, 'state' | 'unfinished'>> {
  if (state === 'done' || state === 'undone') return { state, unfinished: 0 };
  const [kind, left, over] =
    state === 'running'
      ? ([bulkKind, of('waiting'), 'done'] as const)
      : ([bulkUndoKind, of('changed'), 'undone'] as const);
  const parts = await countParts(db, kind, partKeys(kind, bulkId));
  return parts.waiting > 0 ? { state, unfinished: 0 } : { state: over, unfinished: left };
}
