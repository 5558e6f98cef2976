import { importKinds, type ImportPreview } from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { bytesOf, idOf } from '../../platform/ids';
import { countParts } from '../../platform/jobs/job-table';
import { chunkKind, type StoredImport } from './stored-import';

/** Files that were chosen together, in the order in which they are to be written: each finds what the ones before brought. */
export async function readPackage(db: Queryable, stored: StoredImport): Promise<ImportPreview['package']> {
  if (stored.packageId === null) return [];
  const rows = await db.rows<Row<'import_batch', 'id' | 'file_name' | 'kind' | 'state'>>(
    `SELECT id, file_name, kind, state FROM import_batch WHERE package_id = :package AND user_id = :user ORDER BY created_at, id`,
    { package: bytesOf(stored.packageId), user: bytesOf(stored.userId) },
  );
  const files = await Promise.all(
    rows.map(async (row) => ({
      ...row,
      parts: await countParts(db, chunkKind, `${chunkKind}:${idOf<string>(row.id)}:`),
    })),
  );
  return files
    .map((row) => ({
      id: idOf<StoredImport['id']>(row.id),
      fileName: row.file_name,
      kind: row.kind,
      state: row.state === 'applying' && row.parts.waiting === 0 ? ('done' as const) : row.state,
    }))
    .sort((a, b) => importKinds.indexOf(a.kind) - importKinds.indexOf(b.kind));
}

/** The file of the same package that is to be written before, if one is left; of one kind the order does not matter. */
export async function readWaitedFor(db: Queryable, stored: StoredImport): Promise<string | null> {
  const files = await readPackage(db, stored);
  const mine = importKinds.indexOf(stored.kind);
  const before = files.find(
    ({ id, kind, state }) => id !== stored.id && importKinds.indexOf(kind) < mine && state === 'judged',
  );
  return before?.fileName ?? null;
}
