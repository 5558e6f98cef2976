import type { ImportSummary } from '@kettle/contract';
import { undoDays } from '../../activity/changes/index';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { instantOf, sqlInstant, wholeNumber } from '../../platform/database/values';
import { bytesOf, idOf } from '../../platform/ids';
import type { SignedIn } from '../../records/users/index';
import { writtenSql } from './stored-import';

const listed = 100;

/** Files that were written: one's own, for managers everybody's. */
export async function listImports(db: Queryable, who: SignedIn, now: string): Promise<ImportSummary[]> {
  const rows = await db.rows<
    Row<'import_batch', 'id' | 'file_name' | 'kind' | 'state' | 'kept' | 'set_id' | 'changed'> &
      Row<'app_user', 'name'> & { applied_at: string; written: string }
  >(
    `SELECT i.id, i.file_name, i.kind, i.state, i.applied_at, u.name, i.kept, i.set_id, i.changed, ${writtenSql('i')} AS written
       FROM import_batch i JOIN app_user u ON u.id = i.user_id
      WHERE i.applied_at IS NOT NULL AND (:all OR i.user_id = :me) ORDER BY i.applied_at DESC, i.id LIMIT ${listed}`,
    { all: who.role !== 'rep', me: bytesOf(who.id) },
  );
  const since = sqlInstant(new Date(Date.parse(now) - undoDays * 86_400_000).toISOString());
  return rows.map((row) => ({
    id: idOf(row.id),
    fileName: row.file_name,
    kind: row.kind,
    state: row.state,
    at: instantOf(row.applied_at),
    byName: row.name,
    written: wholeNumber(row.written),
    changed: row.changed,
    kept: row.kept,
    canUndo: row.set_id !== null && !['undone', 'undoing'].includes(row.state) && row.applied_at >= since,
  }));
}
