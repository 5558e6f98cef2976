import type { ImportPreview } from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import { instantOf, wholeNumber } from '../../platform/database/values';
import { bytesOf } from '../../platform/ids';
import { countParts } from '../../platform/jobs/job-table';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import type { SignedIn } from '../../records/users/index';
import { chunkKind, rowsInChunk } from './apply-chunk';
import { readShownRows } from './import-rows';
import { readImportTask } from './read-import';
import { readImport, type ImportLayout, type StoredImport } from './stored-import';

const rowsShown = 200;

/** A stored file as its importer sees it: what was found in it, and how far it is written. @throws Problem `not-found` */
export async function readPreview(services: Services, id: string): Promise<ImportPreview> {
  const { database } = services;
  const stored = await readWhole(services, id);
  return {
    id: stored.id,
    fileName: stored.fileName,
    type: stored.type,
    encoding: stored.encoding,
    delimiter: stored.layout.delimiter,
    columns: stored.layout.columns.map((column, index) => ({
      ...column,
      field: stored.fields[index] ?? 'ignore',
    })),
    counts: stored.layout.counts,
    rows: await readShownRows(database, id, rowsShown),
    sameFileAt: await readSameFile(database, stored),
    ...(await readProgress(database, stored)),
    version: stored.version,
  };
}

/** A file with what it holds; one that was stored by an older version is read now. */
export async function readWhole(
  services: Services,
  id: string,
): Promise<StoredImport & { layout: ImportLayout }> {
  let stored = await readImport(services.database, id);
  if (stored.layout === null) {
    await services.heavy.run(readImportTask, { importId: id });
    stored = await readImport(services.database, id);
  }
  const { layout } = stored;
  if (layout === null) throw new Problem('stale');
  return { ...stored, layout };
}

/** @throws Problem `not-found` when the file is not the person's own */
export async function readOwnImport(db: Queryable, id: string, who: SignedIn): Promise<StoredImport> {
  const stored = await readImport(db, id);
  if (stored.userId !== who.id) throw new Problem('not-found');
  return stored;
}

async function readSameFile(db: Queryable, stored: StoredImport): Promise<string | null> {
  const [row] = await db.rows<{ applied_at: string }>(
    `SELECT applied_at FROM import_batch WHERE content_hash = :hash AND state <> 'judged' AND id <> :id
      ORDER BY applied_at DESC, id LIMIT 1`,
    { hash: stored.hash, id: bytesOf(stored.id) },
  );
  return row ? instantOf(row.applied_at) : null;
}

/** Done when no part is left to do; read from the jobs themselves, so that no counter can be wrong. */
async function readProgress(
  db: Queryable,
  stored: StoredImport,
): Promise<Pick<ImportPreview, 'state' | 'written' | 'failedRows'>> {
  if (stored.state === 'judged') return { state: 'judged', written: 0, failedRows: 0 };
  const parts = await countParts(db, chunkKind, `${chunkKind}:${stored.id}:`);
  const [rows] = await db.rows<{ written: string; held: string }>(
    `SELECT (SELECT COUNT(*) FROM contact WHERE import_id = :id) AS written,
            (SELECT COUNT(*) FROM import_row WHERE import_id = :id) AS held`,
    { id: bytesOf(stored.id) },
  );
  const isApplying = stored.state === 'applying' && parts.waiting > 0;
  return {
    state: isApplying ? 'applying' : stored.state === 'applying' ? 'done' : stored.state,
    written: wholeNumber(rows?.written ?? 0),
    failedRows: Math.min(parts.failed * rowsInChunk, wholeNumber(rows?.held ?? 0)),
  };
}
