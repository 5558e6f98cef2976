import type { ImportField, RemapImport } from '@kettle/contract';
import { bytesOf } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import type { SignedIn } from '../../records/users/index';
import { assertEncoding } from './read-file';
import { readImportTask } from './read-import';
import { readOwnImport, readPreview } from './read-preview';
import type { StoredImport } from './stored-import';

/** Maps the columns of a file anew, or reads it in another encoding, and judges its rows again. @throws Problem `stale` */
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
  assertFields(body.fields, stored);
  const changed = await database.change(
    `UPDATE import_batch SET fields = :fields, encoding = :encoding, version = version + 1
      WHERE id = :id AND version = :version AND state = 'judged'`,
    { id: bytesOf(stored.id), version: body.version, fields: JSON.stringify(body.fields), encoding },
  );
  if (changed === 0) throw new Problem('stale', {}, { current: await readPreview(services, stored.id) });
  await services.heavy.run(readImportTask, { importId: stored.id });
}

function assertFields(fields: readonly ImportField[], stored: StoredImport): void {
  const named = fields.filter((field) => field !== 'ignore');
  const twice = named.find((field, index) => named.indexOf(field) !== index);
  if (twice === undefined && fields.length === stored.fields.length) return;
  const message =
    twice === undefined
      ? $localize`must name every column once`
      : `two columns are mapped to ${twice}; leave one out`;
  throw new Problem('invalid-request', {}, { fields: [{ path: 'fields', message }] });
}
