import type { ImportPreview, UserId } from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import { instantOf, wholeNumber } from '../../platform/database/values';
import { bytesOf } from '../../platform/ids';
import { countParts } from '../../platform/jobs/job-table';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import { readSignedIn, type SignedIn } from '../../records/users/index';
import { readShownRows } from './import-rows';
import { fileKinds } from './kinds';
import { readPackage } from './package';
import { readImportTask, readingOf } from './read-import';
import { readRemembered } from './remembered';
import { chunkKind, readImport, writtenSql, type ImportLayout, type StoredImport } from './stored-import';

const rowsShown = 200;

/** A stored file as its importer sees it: what was found in it, and how far it is written. @throws Problem `not-found` */
export async function readPreview(services: Services, id: string): Promise<ImportPreview> {
  const { database } = services;
  const stored = await readWhole(services, id);
  const { layout, formats } = stored;
  const who = await readSignedIn(database, stored.userId as UserId, services.clock.now());
  const reading = await readingOf(database, services, who, stored);
  const kind = fileKinds[stored.kind];
  const names = layout.columns.map(({ name }) => name);
  const remembered =
    stored.state === 'judged'
      ? await readRemembered(database, { userId: stored.userId, kind: stored.kind, names })
      : null;
  return {
    ...{ id: stored.id, fileName: stored.fileName, type: stored.type, encoding: stored.encoding },
    ...{
      delimiter: layout.delimiter,
      kind: stored.kind,
      sheet: stored.sheet,
      sheets: layout.sheets,
      formats,
    },
    isRemembered: remembered !== null && remembered.fields.join('\n') === stored.fields.join('\n'),
    columns: layout.columns.map((column, index) => ({
      ...column,
      field: stored.fields[index] ?? 'ignore',
    })),
    fields: [...reading.columns]
      .sort((a, b) => Number(b.isNeeded === true) - Number(a.isNeeded === true))
      .map(({ key, name, isNeeded = false }) => ({ key, name, isNeeded })),
    heads: [...kind.heads(reading.columns)],
    counts: layout.counts,
    package: await readPackage(database, stored),
    rows: await readShownRows(database, id, rowsShown, (draft) => kind.cells(draft, reading)),
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
): Promise<Pick<ImportPreview, 'state' | 'written' | 'changed' | 'refused' | 'failedRows'>> {
  if (stored.state === 'judged')
    return { state: 'judged', written: 0, changed: 0, refused: 0, failedRows: 0 };
  const parts = await countParts(db, chunkKind, `${chunkKind}:${stored.id}:`);
  const [rows] = await db.rows<{ written: string; changed: string; held: string; refused: string }>(
    `SELECT ${writtenSql('b')} AS written, b.changed,
            (SELECT COUNT(*) FROM import_row WHERE import_id = :id) AS held,
            (SELECT COUNT(*) FROM import_row WHERE import_id = :id AND outcome = 'refused') AS refused
       FROM import_batch b WHERE b.id = :id`,
    { id: bytesOf(stored.id) },
  );
  const isApplying = stored.state === 'applying' && parts.waiting > 0;
  return {
    state: isApplying ? 'applying' : stored.state === 'applying' ? 'done' : stored.state,
    written: wholeNumber(rows?.written ?? 0),
    changed: wholeNumber(rows?.changed ?? 0),
    refused: wholeNumber(rows?.refused ?? 0),
    failedRows: Math.min(parts.failed * fileKinds[stored.kind].rowsAtOnce, wholeNumber(rows?.held ?? 0)),
  };
}
