import type { CustomField, GridFieldOf } from '@kettle/contract';
import { type CardFile, fileEnding, type ListFile, mostSheetRows } from '@kettle/contract/base/list-files';
import { writeCsv } from '@kettle/core/imports';
import { isAtLeast } from '@kettle/core/rights';
import type { Response } from 'express';
import type { Queryable } from '../../platform/database/database';
import type { IdBytes } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import { writingAt } from '../../platform/work/work';
import { writeSheet } from '../documents/index';
import { noteSecurity } from '../security/index';
import type { SignedIn } from '../users/index';
import { exportColumn, type ExportColumn } from './export-cells';
import { readNames } from './list-grid';

const rowsAtOnce = 1000;

const mediaTypes: Readonly<Record<ListFile, string>> = {
  csv: 'text/csv; charset=utf-8',
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  'vcard-3': 'text/vcard; charset=utf-8',
  'vcard-4': 'text/vcard; charset=utf-8',
};

/** Cards of the records of a list, in the order of the ids. */
export type WriteCards = (db: Queryable, ids: readonly IdBytes[], as: CardFile) => Promise<string>;

export interface Exported<Row> {
  /** What is exported, as the log of security and the file call it: `deals`. */
  readonly what: string;
  readonly as: ListFile;
  readonly fields: Readonly<Record<string, GridFieldOf<Row>>>;
  readonly custom?: readonly CustomField[];
  /** Keys of the columns, in their order. */
  readonly columns: readonly string[];
  readonly ids: readonly IdBytes[];
  rows(ids: readonly IdBytes[]): Promise<readonly Row[]>;
  readonly cards?: WriteCards | undefined;
}

/**
 * Sends a list as a file, its columns in their order. CSV (RFC 4180) of any length is sent as it is read: days and moments in ISO 8601, money in
 * units with its currency's places and its currency in a column beside it. XLSX has typed cells, moments by the reader's clock.
 * @throws Problem `not-allowed` when the organisation's rule lets others export, `sheet-too-long` beyond what a workbook may have
 */
export async function exportList<Row>(
  services: Services,
  { who, response }: { readonly who: SignedIn; readonly response: Response },
  { what, as, fields, custom = [], columns: keys, ids, rows: readRows, cards }: Exported<Row>,
): Promise<'answered'> {
  const { database } = services;
  const { organisation, rights } = await services.settings.read(database);
  if (!isAtLeast(who.role, rights.exports)) throw new Problem('not-allowed');
  if (as === 'xlsx' && ids.length > mostSheetRows)
    throw new Problem('sheet-too-long', { most: mostSheetRows, found: ids.length });
  const names = new Map<string, string>();
  for (const type of new Set(keys.map((key) => fields[key]?.type)))
    if (type !== 'user') for (const [id, name] of await readNames(database, type)) names.set(id, name);
  const setting = { names, currency: organisation.currency, zone: who.zone };
  const columns = keys.flatMap((key) => exportColumn({ fields, custom }, key, setting));
  await noteSecurity(writingAt(database, services.clock.now()), {
    kind: 'exported',
    userId: who.id,
    data: { what, count: ids.length },
  });
  const sheet = as === 'xlsx' ? await sheetOf(services, what, columns, await readAll(ids, readRows)) : null;
  response
    .set('Content-Disposition', `attachment; filename="${what}.${fileEnding[as]}"`)
    .set('Cache-Control', 'no-store')
    .type(mediaTypes[as]);
  if (sheet !== null) {
    response.send(sheet);
    return 'answered';
  }
  for (const [at, some] of partsOf(ids).entries()) {
    const text = isCard(as)
      ? await cards!(database, some, as)
      : csvOf(columns, await readRows(some), at === 0);
    // Whoever reads slowly is waited for: the file is never all in memory.
    if (!response.write(text)) await hasRoom(response);
    if (response.destroyed) return 'answered';
  }
  response.end();
  return 'answered';
}

/** There is room again, or nobody reads any more. */
const hasRoom = (response: Response): Promise<void> =>
  new Promise((resolve) => {
    const settle = () => {
      response.off('drain', settle).off('close', settle);
      resolve();
    };
    response.on('drain', settle).on('close', settle);
  });

const isCard = (as: ListFile): as is CardFile => as === 'vcard-3' || as === 'vcard-4';

/** One part even of nothing: a file of no rows has its head. */
const partsOf = (ids: readonly IdBytes[]): IdBytes[][] =>
  Array.from({ length: Math.max(1, Math.ceil(ids.length / rowsAtOnce)) }, (_, at) =>
    ids.slice(at * rowsAtOnce, (at + 1) * rowsAtOnce),
  );

async function readAll<Row>(ids: readonly IdBytes[], read: Exported<Row>['rows']): Promise<Row[]> {
  const all: Row[] = [];
  for (const some of partsOf(ids)) all.push(...(await read(some)));
  return all;
}

function csvOf<Row>(columns: readonly ExportColumn<Row>[], rows: readonly Row[], isFirst: boolean): string {
  const text = writeCsv(
    columns.flatMap(({ heads }) => heads),
    rows.map((row) => columns.flatMap(({ cells }) => cells(row)).map((cell) => cell.text)),
  );
  return isFirst ? text : text.slice(text.indexOf('\r\n') + 2);
}

/** Characters of a column: as wide as its head at least, and as its first rows. */
const widest = 60;

function sheetOf<Row>(
  services: Services,
  name: string,
  columns: readonly ExportColumn<Row>[],
  rows: readonly Row[],
) {
  const table = rows.map((row) => columns.flatMap(({ cells }) => cells(row)));
  const widthOf = (head: string, at: number) =>
    Math.min(widest, Math.max(head.length, ...table.slice(0, 200).map((row) => row[at]!.text.length)) + 2);
  return writeSheet(services, {
    name,
    columns: columns.flatMap(({ heads }) => heads).map((head, at) => ({ head, width: widthOf(head, at) })),
    rows: table.map((row) => row.map(({ typed }) => typed)),
  });
}
