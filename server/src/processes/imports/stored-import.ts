import {
  type CustomField,
  importField,
  importPreview,
  type ImportId,
  type ImportPreview,
} from '@kettle/contract';
import * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import { jsonOf } from '../../platform/database/values';
import { Problem } from '../../platform/problem';
import { bytesOf, idOf } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { readCustomFields } from '../../records/fields/index';
import { readStandings } from '../../records/settings/index';
import type { ImportFile } from './read-file';
import type { Row } from '../../platform/database/schema.generated';

type ImportState = ImportPreview['state'];

const importLayout = importPreview.pick({ delimiter: true, counts: true }).extend({
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
  readonly withLikely: boolean;
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
> {
  fields: unknown;
  layout: unknown;
}

/** @throws Problem `not-found` */
export async function readImport(db: Queryable, id: string): Promise<StoredImport> {
  const [row] = await db.rows<ImportRow>(
    `SELECT id, user_id, file_name, type, encoding, content_hash, fields, state, with_likely, leads_as, layout, version
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
    fields: z.array(importField).parse(jsonOf(row.fields)),
    state: row.state,
    withLikely: row.with_likely === 1,
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
