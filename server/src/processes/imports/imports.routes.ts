import type { ImportField, ImportId, ImportPreview } from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import { instantOf, sqlInstant, wholeNumber } from '../../platform/database/values';
import type { Handlers } from '../../platform/http/bind-routes';
import { Problem } from '../../platform/problem';
import { bytesOf, newId } from '../../platform/ids';
import { enqueue } from '../../platform/jobs/job-table';
import type { Services } from '../../platform/services';
import type { SignedIn } from '../../records/users/index';
import { chunkKind, rowsInChunk } from './apply-chunk';
import { countRows, readShownRows } from './import-rows';
import { assertEncoding } from './read-file';
import { readImportTask, takeImportTask, type GivenFile } from './read-import';
import { readImport, type StoredImport } from './stored-import';
import { listImports, undoImport } from './undo-import';
import { work } from '../../platform/work/work';

type Names = 'uploadImport' | 'getImport' | 'remapImport' | 'confirmImport' | 'listImports' | 'undoImport';

const rowsShown = 200;
export function importsRoutes(services: Services): Pick<Handlers, Names> {
  const { database, clock } = services;

  const preview = async (id: string): Promise<ImportPreview> => {
    const stored = await readWhole(id);
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
  };

  /** With what the file holds: one that was stored by an older version is read now. */
  const readWhole = async (id: string) => {
    let stored = await readImport(database, id);
    if (stored.layout === null) {
      await services.heavy.run(readImportTask, { importId: id });
      stored = await readImport(database, id);
    }
    const { layout } = stored;
    if (layout === null) throw new Problem('stale');
    return { ...stored, layout };
  };

  const own = async (id: string, who: SignedIn): Promise<StoredImport> => {
    const stored = await readImport(database, id);
    if (stored.userId !== who.id) throw new Problem('not-found');
    return stored;
  };

  return {
    uploadImport: async ({ body, who }) => {
      const id = newId<ImportId>();
      const file: GivenFile = { id, userId: who.id, ...body, at: clock.now() };
      await services.heavy.run(takeImportTask, file);
      return preview(id);
    },
    getImport: async ({ params, who }) => preview((await own(params.id, who)).id),
    remapImport: async ({ params, body, who }) => {
      const stored = await own(params.id, who);
      const encoding = body.encoding ?? stored.encoding;
      assertEncoding(encoding);
      assertFields(body.fields, stored);
      const changed = await database.change(
        `UPDATE import_batch SET fields = :fields, encoding = :encoding, version = version + 1
          WHERE id = :id AND version = :version AND state = 'judged'`,
        { id: bytesOf(stored.id), version: body.version, fields: JSON.stringify(body.fields), encoding },
      );
      if (changed === 0) throw new Problem('stale', {}, { current: await preview(stored.id) });
      await services.heavy.run(readImportTask, { importId: stored.id });
      return preview(stored.id);
    },
    confirmImport: async ({ params, body, who }) => {
      const stored = await readWhole((await own(params.id, who)).id);
      await work(services, who, async (w) => {
        const changed = await w.change(
          `UPDATE import_batch SET state = 'applying', with_likely = :withLikely, leads_as = :leadsAs, applied_at = :now, set_id = :set, version = version + 1
            WHERE id = :id AND version = :version AND state = 'judged'`,
          {
            id: bytesOf(stored.id),
            version: body.version,
            withLikely: body.withLikely,
            leadsAs: body.leadsAs,
            now: sqlInstant(w.now),
            set: bytesOf(w.id),
          },
        );
        if (changed === 0) throw new Problem('stale', {}, { current: await preview(stored.id) });
        const rows = await countRows(w, stored.id);
        for (let from = 0; from < rows; from += rowsInChunk)
          await enqueue(w, {
            kind: chunkKind,
            dedupeKey: `${chunkKind}:${stored.id}:${from}`,
            payload: { importId: stored.id, from, setId: w.id },
            dueAt: w.now,
          });
        w.say(`Imported ${stored.fileName}`);
        w.note('import', stored.id);
      });
      return preview(stored.id);
    },
    listImports: async ({ who }) => ({ imports: await listImports(database, who, clock.now()) }),
    undoImport: async ({ params, who }) => {
      await undoImport(services, who, params.id);
      return { ok: true };
    },
  };
}

function assertFields(fields: readonly ImportField[], stored: StoredImport): void {
  const named = fields.filter((field) => field !== 'ignore');
  const twice = named.find((field, index) => named.indexOf(field) !== index);
  if (twice === undefined && fields.length === stored.fields.length) return;
  const message =
    twice === undefined ? 'must name every column once' : `two columns are mapped to ${twice}; leave one out`;
  throw new Problem('invalid-request', {}, { fields: [{ path: 'fields', message }] });
}

async function readSameFile(db: Queryable, stored: StoredImport): Promise<string | null> {
  const [row] = await db.rows<{ applied_at: string }>(
    `SELECT applied_at FROM import_batch WHERE content_hash = :hash AND state <> 'judged' AND id <> :id
      ORDER BY applied_at DESC, id LIMIT 1`,
    { hash: stored.hash, id: bytesOf(stored.id) },
  );
  return row ? instantOf(row.applied_at) : null;
}

/** Done when no chunk is left to do; told from the jobs themselves, so that no counter can be wrong. */
async function readProgress(
  db: Queryable,
  stored: StoredImport,
): Promise<Pick<ImportPreview, 'state' | 'written'>> {
  if (stored.state === 'judged') return { state: 'judged', written: 0 };
  const [left] = await db.rows<{ jobs: string }>(
    `SELECT COUNT(*) AS jobs FROM job WHERE dedupe_key LIKE :prefix AND state NOT IN ('done', 'failed')`,
    { prefix: `${chunkKind}:${stored.id}:%` },
  );
  const [written] = await db.rows<{ contacts: string }>(
    'SELECT COUNT(*) AS contacts FROM contact WHERE import_id = :id',
    {
      id: bytesOf(stored.id),
    },
  );
  return {
    state: wholeNumber(left?.jobs ?? 0) === 0 ? 'done' : 'applying',
    written: wholeNumber(written?.contacts ?? 0),
  };
}
