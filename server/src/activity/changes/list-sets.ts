import type { ChangeSet, listChanges } from '@kettle/contract';
import type * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import { instantOf, sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf } from '../../platform/ids';
import { assertReadable } from '../../records/rights/index';
import type { SignedIn } from '../../records/users/index';
import { mayDo, undoDays } from './undo-set';
import type { Row } from '../../platform/database/schema.generated';

/** What a list of changes can be about. */
const recordKinds = [
  'contact',
  'company',
  'deal',
  'lead',
  'task',
  'agreement',
  'entry',
  'run',
  'mail',
  'file',
] as const;

/** Changes of the last 30 days that have a name, newest first: one's own, or those of a record. Relies on change_set_of_user and event_of_record. */
export async function listSets(
  db: Queryable,
  who: SignedIn,
  { recordId, limit }: z.output<typeof listChanges>,
  now: string,
): Promise<ChangeSet[]> {
  if (recordId !== undefined) await assertReadable(db, who, recordId, recordKinds);
  const since = sqlInstant(new Date(Date.parse(now) - undoDays * 86_400_000).toISOString());
  const where =
    recordId === undefined
      ? 's.user_id = :me'
      : 's.id IN (SELECT e.set_id FROM event e WHERE e.record_id = :record)';
  const rows = await db.rows<
    Row<'change_set', 'id' | 'act' | 'words' | 'at' | 'user_id' | 'undone_by_id'> & {
      name: string | null;
      undone_act: string | null;
    }
  >(
    `SELECT s.id, s.act, s.words, s.at, s.user_id, u.name, s.undone_by_id, o.act AS undone_act
       FROM change_set s LEFT JOIN app_user u ON u.id = s.user_id LEFT JOIN change_set o ON o.id = s.undoes_id
      WHERE ${where} AND s.at >= :since AND s.words <> '' AND s.parent_id IS NULL
      ORDER BY s.at DESC, s.id DESC LIMIT ${limit}`,
    { since, ...(recordId === undefined ? { me: bytesOf(who.id) } : { record: bytesOf(recordId) }) },
  );
  return rows.map((row) => ({
    id: idOf(row.id),
    words: row.words,
    at: instantOf(row.at),
    byName: row.name,
    isUndone: row.undone_by_id !== null,
    canUndo:
      row.undone_by_id === null &&
      mayDo(who.role, row.act) &&
      mayDo(who.role, row.undone_act ?? row.act) &&
      (who.role !== 'rep' || (row.user_id !== null && idOf(row.user_id) === who.id)),
  }));
}
