import type { ChooseImportRows, RemapImport } from '@kettle/contract';
import { bytesOf } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import type { SignedIn } from '../../records/users/index';
import { chooseRows } from './import-rows';
import { columnsFor, readChoices } from './read-choices';
import { assertEncoding, readTable } from './read-file';
import { proposeReading, readImportTask } from './read-import';
import { readOwnImport, readPreview } from './read-preview';
import { readContent, type StoredImport } from './stored-import';

/**
 * Maps the columns of a file anew, or reads it in another encoding, as another kind or of another sheet, and judges its rows again.
 * @throws Problem `stale`, `invalid-request` at `fields` or `kind`
 */
export async function changeMapping(
  services: Services,
  who: SignedIn,
  id: string,
  body: RemapImport,
): Promise<void> {
  const { database } = services;
  const stored = await readOwnImport(database, id, who);
  const encoding = body.encoding ?? stored.encoding;
  assertEncoding(encoding);
  const [kind, sheet] = [body.kind ?? stored.kind, body.sheet ?? stored.sheet];
  if (stored.type === 'vcard' && kind !== 'people')
    throw invalid('kind', $localize`a vCard file holds people`);
  let { fields, formats } = { fields: [...body.fields] as string[], formats: body.formats ?? stored.formats };
  if (kind !== stored.kind || sheet !== stored.sheet) {
    const content = await readContent(database, id);
    const table = await readTable({ ...stored, content, encoding, sheet });
    const proposed = await proposeReading(
      services,
      { table, kind, userId: who.id },
      await readChoices(database),
    );
    fields = [...proposed.fields];
    formats = body.formats ?? proposed.formats;
  } else await assertFields(services, fields, stored);
  const changed = await database.change(
    `UPDATE import_batch SET fields = :fields, encoding = :encoding, kind = :kind, sheet = :sheet, date_order = :dates,
            decimal_mark = :numbers, version = version + 1
      WHERE id = :id AND version = :version AND state = 'judged'`,
    {
      ...{
        id: bytesOf(stored.id),
        version: body.version,
        fields: JSON.stringify(fields),
        encoding,
        kind,
        sheet,
      },
      ...{ dates: formats.dates, numbers: formats.numbers },
    },
  );
  if (changed === 0) throw new Problem('stale', {}, { current: await readPreview(services, stored.id) });
  await services.heavy.run(readImportTask, { importId: stored.id });
}

/** Says what happens to rows that are likely ones that are here. @throws Problem `stale` */
export async function chooseImportRows(
  services: Services,
  who: SignedIn,
  id: string,
  { version, lines, choice }: ChooseImportRows,
): Promise<void> {
  const { database } = services;
  const stored = await readOwnImport(database, id, who);
  if (stored.version !== version || stored.state !== 'judged')
    throw new Problem('stale', {}, { current: await readPreview(services, stored.id) });
  await chooseRows(database, stored.id, lines, choice);
}

const invalid = (path: string, message: string) =>
  new Problem('invalid-request', {}, { fields: [{ path, message }] });

async function assertFields(
  { database }: Services,
  fields: readonly string[],
  stored: StoredImport,
): Promise<void> {
  const named = fields.filter((field) => field !== 'ignore');
  const twice = named.find((field, index) => named.indexOf(field) !== index);
  if (twice !== undefined)
    throw invalid('fields', $localize`two columns are mapped to ${twice}:field:; leave one out`);
  if (fields.length !== stored.fields.length) throw invalid('fields', $localize`must name every column once`);
  if (stored.kind === 'people') return;
  const known = new Set(columnsFor(stored.kind, await readChoices(database)).map(({ key }) => key));
  const unknown = named.find((field) => !known.has(field));
  if (unknown !== undefined)
    throw invalid('fields', $localize`${unknown}:field: is nothing that such a file holds`);
}
