import type { UserId } from '@kettle/contract';
import { noPlainDraft, type ContactDraft } from '@kettle/core/imports';
import { createHash } from 'node:crypto';
import * as z from 'zod';
import { isDuplicateKey } from '../../platform/database/database';
import { sqlInstant } from '../../platform/database/values';
import type { HeavyTask } from '../../platform/heavy';
import { bytesOf } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import { countVerdicts, replaceRows } from './import-rows';
import { readSignedIn } from '../../records/users/index';
import { judgeDrafts, tellOnly } from './judge';
import { decode, encodingOf, proposeFields, readFile, typeOf } from './read-file';
import { judgeSetting, readContent, readFillable, readImport, type ImportLayout } from './stored-import';

export const takeImportTask = 'take-import';
export const readImportTask = 'read-import';

const given = z.object({
  id: z.uuid(),
  userId: z.uuid(),
  fileName: z.string(),
  contentBase64: z.string(),
  /** Null finds it from the bytes. */
  encoding: z.string().nullable(),
  at: z.iso.datetime(),
});
export type GivenFile = z.infer<typeof given>;

/**
 * Keeps a file that was sent, with what it seems to be, and reads it; one that was kept under its id before stays as it is.
 * @throws Problem `unreadable-file`, nothing is kept of such a file; `other-request` when its id is another file's
 */
export const takeImport: HeavyTask = async (services, input) => {
  const { id, userId, fileName, contentBase64, at, ...asked } = given.parse(input);
  const { database } = services;
  if (!z.base64().safeParse(contentBase64).success)
    throw new Problem('unreadable-file', {
      why: $localize`it did not arrive whole. Please choose it again.`,
    });
  const content = Buffer.from(contentBase64, 'base64');
  const encoding = encodingOf(content, asked.encoding);
  const text = decode(content, encoding);
  const type = typeOf(fileName, text);
  const fields = proposeFields(text, type, await readFillable(database));
  const hash = createHash('sha256').update(content).digest();
  try {
    await database.change(
      `INSERT INTO import_batch (id, user_id, file_name, type, encoding, content, content_hash, fields, created_at)
       VALUES (:id, :user, :fileName, :type, :encoding, :content, :hash, :fields, :at)`,
      {
        id: bytesOf(id),
        user: bytesOf(userId),
        fileName,
        type,
        encoding,
        content,
        hash,
        fields: JSON.stringify(fields),
        at: sqlInstant(at),
      },
    );
  } catch (error) {
    if (!isDuplicateKey(error)) throw error;
    const known = await readImport(database, id);
    if (known.userId !== userId || !known.hash.equals(hash)) throw new Problem('other-request');
    return;
  }
  await readRows(services, id);
};

/** Reads a stored file again, as its columns are mapped now. */
export const readImportAgain: HeavyTask = (services, input) =>
  readRows(services, z.object({ importId: z.uuid() }).parse(input).importId);

const nobody: ContactDraft = {
  ...{ line: 0, givenName: '', familyName: '', company: '', email: '', phone: '' },
  ...{ country: '', city: '', street: '', postcode: '', website: '', standing: '', note: '' },
  ...noPlainDraft,
  ...{ tags: [], owner: '', zone: '', category: 'person', checkInDays: null, custom: {} },
};

/** Reads and judges a stored file, and keeps its rows: the preview and each part of the import take them from there. */
async function readRows(services: Services, importId: string): Promise<void> {
  const { database } = services;
  const stored = await readImport(database, importId);
  const content = await readContent(database, importId);
  const file = readFile({ ...stored, content }, await judgeSetting(database, services));
  const judged = await tellOnly(
    database,
    await readSignedIn(database, stored.userId as UserId, services.clock.now()),
    await judgeDrafts(database, file.drafts, importId),
  );
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
}
