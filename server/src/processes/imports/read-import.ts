import type { ImportField } from '@kettle/contract';
import type { ContactDraft } from '@kettle/core/imports';
import * as z from 'zod';
import type { HeavyTask } from '../../platform/heavy';
import { bytesOf } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { readCustomFields } from '../../records/fields/index';
import { countVerdicts, replaceRows } from './import-rows';
import { judgeDrafts } from './judge';
import { decode, encodingOf, proposeFields, readFile, typeOf } from './read-file';
import { judgeSetting, readImport, type ImportLayout } from './stored-import';

export const readImportTask = 'read-import';

const asked = z.object({
  importId: z.uuid(),
  /** The first reading finds encoding, type and the fields of the columns; a later one is told. */
  isFirst: z.boolean(),
});

const nobody: ContactDraft = {
  ...{ line: 0, givenName: '', familyName: '', jobTitle: '', company: '', email: '', phone: '' },
  ...{ country: '', city: '', street: '', postcode: '', website: '', standing: '', source: '', note: '' },
  ...{ warmth: '' as const, tags: [], owner: '', custom: {} },
};

/** Reads and judges a stored file once, and keeps its rows: the preview and each part of the import take them from there. */
export const readImportRows: HeavyTask = async (services, input) => {
  const { importId, isFirst } = asked.parse(input);
  const { database } = services;
  if (isFirst) await findOut(services, importId);
  const stored = await readImport(database, importId);
  const file = readFile(stored, await judgeSetting(database, services));
  const judged = await judgeDrafts(database, file.drafts, importId);
  const unreadable = file.unreadable.map(({ line, reason }) => ({
    draft: { ...nobody, line },
    verdict: 'wrong' as const,
    problems: [{ column: 'row', reason }],
  }));
  const rows = [...judged, ...unreadable];
  const layout: ImportLayout = {
    delimiter: file.delimiter,
    columns: [...file.columns],
    counts: countVerdicts(rows),
  };
  await database.transaction(async (tx) => {
    const changed = await tx.change(
      'UPDATE import_batch SET layout = :layout WHERE id = :id AND version = :version',
      { id: bytesOf(importId), version: stored.version, layout: JSON.stringify(layout) },
    );
    // Mapped anew while it was read: the reading of that mapping is what counts.
    if (changed > 0) await replaceRows(tx, importId, rows);
  });
};

/** The encoding, the type and what each column seems to hold. */
async function findOut({ database }: Services, importId: string): Promise<void> {
  const { content, fileName, encoding: given } = await readImport(database, importId);
  const encoding = encodingOf(content, given === '' ? null : given);
  const text = decode(content, encoding);
  const type = typeOf(fileName, text);
  const fields: ImportField[] = proposeFields(text, type, await readCustomFields(database, 'contact'));
  await database.change(
    'UPDATE import_batch SET encoding = :encoding, type = :type, fields = :fields WHERE id = :id',
    { id: bytesOf(importId), encoding, type, fields: JSON.stringify(fields) },
  );
}
