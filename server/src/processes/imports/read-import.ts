import type { FileFormats, ImportKind, UserId } from '@kettle/contract';
import { importKind } from '@kettle/contract';
import {
  guessFormats,
  guessKind,
  judgeRecord,
  proposeColumns,
  proposeMapping,
  type CellProblem,
} from '@kettle/core/imports';
import { isMonthFirst, localeOf } from '@kettle/core/locale';
import { createHash } from 'node:crypto';
import * as z from 'zod';
import { isDuplicateKey, type WithKeys } from '../../platform/database/database';
import { sqlInstant } from '../../platform/database/values';
import type { HeavyTask } from '../../platform/heavy';
import { bytesOf } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import { readAt, readSignedIn, type SignedIn } from '../../records/users/index';
import type { Reading } from './file-kind';
import { replaceRows } from './import-rows';
import { countVerdicts, type JudgedRow } from './judged-row';
import { judgeDrafts, tellOnly } from './people/judge-people';
import { sayChanges } from './people/change-people';
import { nobody } from './people/people-kind';
import { columnsFor, readChoices, type Choices } from './read-choices';
import { columnsShown, encodingOf, readPeople, readTable, typeOf, type ReadTable } from './read-file';
import { judgeRecords, recordDefs } from './records/index';
import { readRemembered } from './remembered';
import {
  judgeSetting,
  readContent,
  readFillable,
  readImport,
  type ImportLayout,
  type StoredImport,
} from './stored-import';

export const takeImportTask = 'take-import';
export const readImportTask = 'read-import';

const given = z.object({
  id: z.uuid(),
  userId: z.uuid(),
  fileName: z.string(),
  contentBase64: z.string(),
  /** Null finds it from the bytes. */
  encoding: z.string().nullable(),
  /** Null finds it from its name and its columns. */
  kind: importKind.nullable(),
  packageId: z.uuid().nullable(),
  at: z.iso.datetime(),
});
export type GivenFile = z.infer<typeof given>;

/**
 * Keeps a file that was sent, with what it seems to be, and reads it; one that was kept under its id before stays as it is.
 * @throws Problem `unreadable-file`, nothing is kept of such a file; `other-request` when its id is another file's
 */
export const takeImport: HeavyTask = async (services, input) => {
  const { id, userId, fileName, contentBase64, at, packageId, ...asked } = given.parse(input);
  const { database } = services;
  if (!z.base64().safeParse(contentBase64).success)
    throw new Problem('unreadable-file', {
      why: $localize`it did not arrive whole. Please choose it again.`,
    });
  const content = Buffer.from(contentBase64, 'base64');
  const encoding = encodingOf(content, asked.encoding);
  const type = typeOf(fileName, content, encoding);
  const table = await readTable({ type, content, encoding, sheet: 0 });
  const choices = await readChoices(database);
  const kind = table === null ? 'people' : (asked.kind ?? guessKind(fileName, table.columns, choices));
  const { fields, formats } = await proposeReading(services, { table, kind, userId }, choices);
  const hash = createHash('sha256').update(content).digest();
  try {
    await database.change(
      `INSERT INTO import_batch (id, user_id, file_name, type, encoding, content, content_hash, fields, created_at, kind, date_order,
          decimal_mark, package_id)
       VALUES (:id, :user, :fileName, :type, :encoding, :content, :hash, :fields, :at, :kind, :dates, :numbers, :package)`,
      {
        ...{
          id: bytesOf(id),
          user: bytesOf(userId),
          fileName,
          type,
          encoding,
          content,
          hash,
          kind,
          at: sqlInstant(at),
        },
        ...{ fields: JSON.stringify(fields), package: bytesOf(packageId) },
        ...{ dates: formats.dates, numbers: formats.numbers },
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

/** As the organisation's country writes. */
async function usualFormats(services: Services): Promise<FileFormats> {
  const { organisation } = await services.settings.read(services.database);
  const tag = localeOf(organisation.homeCountry);
  return {
    dates: isMonthFirst(tag) ? 'mdy' : 'dmy',
    numbers: new Intl.NumberFormat(tag).format(0.5).includes(',') ? 'comma' : 'point',
  };
}

/** What each column holds and how days and numbers are written: as the last time for the same columns, else by their names and cells. */
export async function proposeReading(
  services: Services,
  {
    table,
    kind,
    userId,
  }: { readonly table: ReadTable | null; readonly kind: ImportKind; readonly userId: string },
  choices: Choices,
) {
  const { database: db } = services;
  const usual = await usualFormats(services);
  if (table === null) return { fields: [], formats: usual };
  const remembered = await readRemembered(db, { userId, kind, names: table.columns });
  const fields =
    remembered?.fields ??
    (kind === 'people'
      ? proposeMapping(table.columns, await readFillable(db))
      : proposeColumns(table.columns, columnsFor(kind, choices)).map((key) => key ?? 'ignore'));
  const cells = table.rows.slice(0, looked).flatMap((row) => row.cells);
  return { fields, formats: guessFormats(cells, remembered?.formats ?? usual) };
}

/** Rows are looked at this far to see how they are written. */
const looked = 2000;

/** Reads a stored file again, as its columns are mapped now. */
export const readImportAgain: HeavyTask = (services, input) =>
  readRows(services, z.object({ importId: z.uuid() }).parse(input).importId);

/** What a file is set against. */
export async function readingOf(
  db: WithKeys,
  services: Services,
  who: SignedIn,
  stored: StoredImport,
): Promise<Reading> {
  const { organisation } = await services.settings.read(db);
  const choices = await readChoices(db);
  return {
    ...{ db, services, who, stored, today: readAt(services, who).today },
    ...{ currency: organisation.currency, homeCountry: organisation.homeCountry },
    ...{ columns: columnsFor(stored.kind, choices), owners: choices.ownerIds, stages: choices.stageIds },
  };
}

/** Reads and judges a stored file, and keeps its rows: the preview and each part of the import take them from there. */
async function readRows(services: Services, importId: string): Promise<void> {
  const { database } = services;
  const stored = await readImport(database, importId);
  const content = await readContent(database, importId);
  const table = await readTable({ ...stored, content });
  const who = await readSignedIn(database, stored.userId as UserId, services.clock.now());
  const reading = await readingOf(database, services, who, stored);
  const rows = await judge(reading, content, table);
  const layout: ImportLayout = {
    delimiter: table?.delimiter ?? null,
    sheets: [...(table?.sheets ?? [])],
    columns: table === null ? [] : columnsShown(table),
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

async function judge(reading: Reading, content: Buffer, table: ReadTable | null): Promise<JudgedRow[]> {
  const { db, services, who, stored } = reading;
  const wrong = (unreadable: readonly { line: number; reason: string }[], draft: (line: number) => unknown) =>
    unreadable.map(({ line, reason }): JudgedRow => {
      return { line, draft: draft(line), verdict: 'wrong', problems: [{ column: 'row', reason }] };
    });
  if (stored.kind === 'people' || table === null) {
    const setting = { ...(await judgeSetting(db, services)), formats: stored.formats };
    const file = readPeople({ ...stored, content }, table, setting);
    const judged = await tellOnly(db, who, await judgeDrafts(db, file.drafts, stored.id));
    return [
      ...(await sayChanges(reading, judged)),
      ...wrong(file.unreadable, (line) => ({ ...nobody, line })),
    ];
  }
  const setting = {
    ...{
      columns: reading.columns,
      names: table.columns,
      formats: stored.formats,
      currency: reading.currency,
    },
    mapping: stored.fields.map((field) => (field === 'ignore' ? null : field)),
  };
  const drafts = table.rows.map((row) => judgeRecord(row, setting));
  // By the name that the file has for it.
  const named = ({ column, reason }: CellProblem) => ({
    column:
      table.columns[stored.fields.indexOf(column)] ??
      reading.columns.find(({ key }) => key === column)?.name ??
      column,
    reason,
  });
  const judged = await judgeRecords(recordDefs[stored.kind], reading, drafts);
  return [
    ...judged.map((row) => ({ ...row, problems: row.problems.map(named) })),
    ...wrong(table.unreadable, (line) => ({ line, values: {} })),
  ];
}
