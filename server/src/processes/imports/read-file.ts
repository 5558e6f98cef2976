import type { FileFormats, ImportField, ImportKind } from '@kettle/contract';
import {
  judgeContact,
  pickFields,
  readCsv,
  readVCards,
  tableOf,
  type JudgedDraft,
  type JudgeSetting,
  type TextTable,
} from '@kettle/core/imports';
import { isUtf8 } from 'node:buffer';
import chardet from 'chardet';
import iconv from 'iconv-lite';
import { Problem } from '../../platform/problem';
import { readSheets } from './xlsx';

/** A file as it was brought in, and how it is read. */
export interface ImportFile {
  readonly type: 'csv' | 'vcard' | 'xlsx';
  readonly kind: ImportKind;
  readonly encoding: string;
  readonly content: Buffer;
  /** Of a workbook, which sheet. */
  readonly sheet: number;
  readonly formats: FileFormats;
  /** What each column holds; `ignore` is left out. */
  readonly fields: readonly string[];
}

export interface ReadTable extends TextTable {
  /** Names of the sheets that have rows; empty for a file without. */
  readonly sheets: readonly string[];
}

export interface ReadPeople {
  readonly drafts: readonly JudgedDraft[];
  readonly unreadable: readonly { readonly line: number; readonly reason: string }[];
}

const samplesShown = 3;

/** The file's own encoding, as far as its bytes tell. @throws Problem `unreadable-file` for one that is not known. */
export function encodingOf(content: Buffer, asked: string | null): string {
  // Bytes that are valid UTF-8 are UTF-8; guessing by frequency is for the rest, and wrong on short files.
  const encoding =
    asked ??
    wideEncoding(content) ??
    (isUtf8(content) ? 'UTF-8' : (chardet.detect(content) ?? 'windows-1252'));
  assertEncoding(encoding);
  return encoding;
}

/** UTF-16 without its mark: of plain letters every other byte is zero. Text of one byte a letter has none. */
function wideEncoding(content: Buffer): 'UTF-16LE' | 'UTF-16BE' | null {
  const sample = content.subarray(0, 4000);
  const zeros = [0, 0];
  sample.forEach((byte, index) => {
    if (byte === 0) zeros[index % 2]! += 1;
  });
  const [even, odd] = zeros.map((count) => count / Math.max(1, sample.length / 2)) as [number, number];
  if (odd > 0.3 && even < 0.1) return 'UTF-16LE';
  return even > 0.3 && odd < 0.1 ? 'UTF-16BE' : null;
}

/** @throws Problem `unreadable-file` */
export function assertEncoding(encoding: string): void {
  if (!iconv.encodingExists(encoding))
    throw new Problem('unreadable-file', {
      why: $localize`the encoding ${encoding}:encoding: is not known.`,
    });
}

const zipMark = Buffer.from([0x50, 0x4b, 0x03, 0x04]);

export function typeOf(fileName: string, content: Buffer, encoding: string): ImportFile['type'] {
  if (content.subarray(0, 4).equals(zipMark)) return 'xlsx';
  const isCard =
    /\.(vcf|vcard)$/i.test(fileName) ||
    /^\uFEFF?BEGIN:VCARD/i.test(decode(content.subarray(0, 64), encoding));
  return isCard ? 'vcard' : 'csv';
}

const decode = (content: Buffer, encoding: string) => iconv.decode(content, encoding);

/** The rows of a CSV or of a sheet; a vCard has none. @throws Problem `unreadable-file` */
export async function readTable({
  type,
  content,
  encoding,
  sheet,
}: Pick<ImportFile, 'type' | 'content' | 'encoding' | 'sheet'>): Promise<ReadTable | null> {
  if (type === 'vcard') return null;
  const table =
    type === 'csv' ? { ...readCsv(decode(content, encoding)), sheets: [] } : await readSheet(content, sheet);
  if (table.columns.every((name) => name === ''))
    throw new Problem('unreadable-file', { why: $localize`it is empty.` });
  if (table.rows.length === 0 && table.unreadable.length === 0)
    throw new Problem('unreadable-file', {
      why: $localize`it has a line of column names and nothing below it.`,
    });
  return table;
}

async function readSheet(content: Buffer, at: number): Promise<ReadTable> {
  const sheets = await readSheets(content);
  const { rows } = sheets[at] ?? sheets[0]!;
  return { ...tableOf(rows), unreadable: [], delimiter: null, sheets: sheets.map(({ name }) => name) };
}

/** The columns of a table with a few of their cells. */
export const columnsShown = ({ columns, rows }: TextTable) =>
  columns.map((name, index) => ({
    name,
    samples: rows.slice(0, samplesShown).map((row) => row.cells[index] ?? ''),
  }));

/** Reads every row as a person, with what is wrong in it by column. */
export function readPeople(
  file: ImportFile,
  table: ReadTable | null,
  setting: Omit<JudgeSetting, 'columnOf'>,
): ReadPeople {
  return table === null
    ? readCardFile(decode(file.content, file.encoding), setting)
    : readRowsOf(table, file.fields as readonly ImportField[], setting);
}

function readRowsOf(
  table: ReadTable,
  fields: readonly ImportField[],
  setting: Omit<JudgeSetting, 'columnOf'>,
): ReadPeople {
  const judging = {
    ...setting,
    columnOf: (field: ImportField) => table.columns[fields.indexOf(field)] ?? field,
  };
  const drafts = table.rows.map((row) => {
    const judged = judgeContact(pickFields(row, fields), row.line, judging);
    // Cells that are left out at the end are empty; words beyond the last column belong to none.
    if (row.cells.slice(table.columns.length).every((cell) => cell.trim() === '')) return judged;
    const reason = $localize`the row has ${row.cells.length}:length: columns, the first line ${table.columns.length}:length2:`;
    return { ...judged, problems: [...judged.problems, { column: 'row', reason }] };
  });
  return { drafts, unreadable: table.unreadable };
}

function readCardFile(text: string, setting: Omit<JudgeSetting, 'columnOf'>): ReadPeople {
  const { cards, unreadable } = readVCards(text);
  if (cards.length === 0 && unreadable.length === 0)
    throw new Problem('unreadable-file', { why: $localize`there is no vCard in it.` });
  const drafts = cards.map((card) =>
    judgeContact(card.raw, card.line, { ...setting, columnOf: (field) => field }),
  );
  return { drafts, unreadable };
}
