import type { CustomField, ImportField } from '@kettle/contract';
import {
  judgeContact,
  pickFields,
  proposeMapping,
  readCsv,
  readVCards,
  type JudgedDraft,
  type JudgeSetting,
  type TextTable,
} from '@kettle/core/imports';
import { isUtf8 } from 'node:buffer';
import chardet from 'chardet';
import iconv from 'iconv-lite';
import { Problem } from '../../platform/problem';

/** A file as it was brought in, and how its columns are read. */
export interface ImportFile {
  readonly type: 'csv' | 'vcard';
  readonly encoding: string;
  readonly content: Buffer;
  readonly fields: readonly ImportField[];
}

export interface ReadFile {
  readonly drafts: readonly JudgedDraft[];
  readonly unreadable: readonly { readonly line: number; readonly reason: string }[];
  readonly columns: readonly { readonly name: string; readonly samples: string[] }[];
  readonly delimiter: string | null;
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

export function typeOf(fileName: string, text: string): ImportFile['type'] {
  return /\.(vcf|vcard)$/i.test(fileName) || /^\uFEFF?BEGIN:VCARD/i.test(text) ? 'vcard' : 'csv';
}

export const decode = (content: Buffer, encoding: string) => iconv.decode(content, encoding);

/** The columns of a CSV with the fields proposed for them; a vCard has none. @throws Problem `unreadable-file` */
export function proposeFields(
  text: string,
  type: ImportFile['type'],
  custom: readonly CustomField[],
): ImportField[] {
  if (type === 'vcard') return [];
  const table = readCsv(text);
  assertReadable(table);
  return proposeMapping(table.columns, custom);
}

function assertReadable(table: TextTable): void {
  if (table.columns.every((name) => name === ''))
    throw new Problem('unreadable-file', { why: $localize`it is empty.` });
  if (table.rows.length === 0 && table.unreadable.length === 0)
    throw new Problem('unreadable-file', {
      why: $localize`it has a line of column names and nothing below it.`,
    });
}

/** Reads every row as a draft, with what is wrong in it by column. */
export function readFile(file: ImportFile, setting: Omit<JudgeSetting, 'columnOf'>): ReadFile {
  const text = decode(file.content, file.encoding);
  return file.type === 'vcard' ? readCardFile(text, setting) : readTable(text, file.fields, setting);
}

function readTable(
  text: string,
  fields: readonly ImportField[],
  setting: Omit<JudgeSetting, 'columnOf'>,
): ReadFile {
  const table = readCsv(text);
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
  const columns = table.columns.map((name, index) => ({
    name,
    samples: table.rows.slice(0, samplesShown).map((row) => row.cells[index] ?? ''),
  }));
  return { drafts, unreadable: table.unreadable, columns, delimiter: table.delimiter };
}

function readCardFile(text: string, setting: Omit<JudgeSetting, 'columnOf'>): ReadFile {
  const { cards, unreadable } = readVCards(text);
  if (cards.length === 0 && unreadable.length === 0)
    throw new Problem('unreadable-file', { why: $localize`there is no vCard in it.` });
  const drafts = cards.map((card) =>
    judgeContact(card.raw, card.line, { ...setting, columnOf: (field) => field }),
  );
  return { drafts, unreadable, columns: [], delimiter: null };
}
