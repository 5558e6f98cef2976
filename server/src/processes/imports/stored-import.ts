import { type CustomField, importPreview, type ImportId, type ImportPreview } from '@kettle/contract';
import * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import { jsonOf } from '../../platform/database/values';
import { Problem } from '../../platform/problem';
import { bytesOf, idOf, idOrNull } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { readCustomFields } from '../../records/fields/index';
import { readStandings } from '../../records/settings/index';
import type { ImportFile } from './read-file';
import type { Row } from '../../platform/database/schema.generated';

/** The job that writes one part of a file. */
export const chunkKind = 'import-chunk';

type ImportState = ImportPreview['state'];

const importLayout = importPreview.pick({ delimiter: true }).extend({
  // A file that was read before these were told has none.
  counts: importPreview.shape.counts.extend({ differs: z.int().default(0) }),
  sheets: z.array(z.string()).default([]),
  columns: z.array(z.object({ name: z.string(), samples: z.array(z.string()) })),
});
/** What was found in a file when it was read. */
export type ImportLayout = z.infer<typeof importLayout>;

/** A file that was brought in, without its bytes. */
export interface StoredImport extends Omit<ImportFile, 'content'> {
  readonly id: ImportId;
  readonly userId: string;
  readonly fileName: string;
  readonly hash: Buffer;
  readonly state: ImportState;
  /** Files that were chosen together have the same. */
  readonly packageId: string | null;
  readonly withLikely: boolean;
  /** Known ones become what the file says. */
  readonly updates: boolean;
  /** The campaign of the leads it makes; null makes none. */
  readonly leadsAs: string | null;
  /** Null until it has been read. */
  readonly layout: ImportLayout | null;
  readonly version: number;
}

interface ImportRow extends Row<
  'import_batch',
  | 'id'
  | 'user_id'
  | 'file_name'
  | 'type'
  | 'encoding'
  | 'content_hash'
  | 'state'
  | 'with_likely'
  | 'leads_as'
  | 'version'
  | 'kind'
  | 'sheet'
  | 'date_order'
  | 'decimal_mark'
  | 'package_id'
  | 'updates'
> {
  fields: unknown;
  layout: unknown;
}

/** @throws Problem `not-found` */
export async function readImport(db: Queryable, id: string): Promise<StoredImport> {
  const [row] = await db.rows<ImportRow>(
    `SELECT id, user_id, file_name, type, encoding, content_hash, fields, state, with_likely, leads_as, layout, version, kind, sheet,
            date_order, decimal_mark, package_id, updates
       FROM import_batch WHERE id = :id`,
    { id: bytesOf(id) },
  );
  if (!row) throw new Problem('not-found');
  return {
    id: idOf(row.id),
    userId: idOf(row.user_id),
    fileName: row.file_name,
    type: row.type,
    encoding: row.encoding,
    hash: row.content_hash,
    fields: z.array(z.string()).parse(jsonOf(row.fields)),
    ...{ kind: row.kind, sheet: row.sheet, packageId: idOrNull<string>(row.package_id) },
    formats: { dates: row.date_order, numbers: row.decimal_mark },
    state: row.state,
    withLikely: row.with_likely === 1,
    updates: row.updates === 1,
    leadsAs: row.leads_as,
    layout: row.layout === null ? null : importLayout.parse(jsonOf(row.layout)),
    version: row.version,
  };
}

export async function readContent(db: Queryable, id: string): Promise<Buffer> {
  const [row] = await db.rows<Row<'import_batch', 'content'>>(
    'SELECT content FROM import_batch WHERE id = :id',
    {
      id: bytesOf(id),
    },
  );
  if (!row) throw new Problem('not-found');
  return row.content;
}

/** The custom fields that a file fills: the lead's where each row becomes one. A name that both have is the contact's. */
export async function readFillable(db: Queryable): Promise<CustomField[]> {
  return [...(await readCustomFields(db, 'lead')), ...(await readCustomFields(db, 'contact'))];
}

export async function judgeSetting(db: Queryable, { settings }: Services) {
  const { organisation } = await settings.read(db);
  const standings = await readStandings(db);
  const owners = await db.rows<Row<'app_user', 'name'>>('SELECT name FROM app_user ORDER BY name, id');
  return {
    homeCountry: organisation.homeCountry,
    currency: organisation.currency,
    standings: standings.map((standing) => standing.name),
    fields: await readFillable(db),
    owners: owners.map((owner) => owner.name),
  };
}

/** How many records of an import are there: of people those that still are, of others what was made, and what was kept once it was undone. */
export const writtenSql = (batch: string) =>
  `IF(${batch}.kind = 'people', (SELECT COUNT(*) FROM contact c WHERE c.import_id = ${batch}.id), IF(${batch}.state = 'undone', ${batch}.kept, ${batch}.made))`;
