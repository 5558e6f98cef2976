import { stringify } from 'csv-stringify/sync';
import { readPhone } from '../phone';

/**
 * Delimited text after RFC 4180: commas, CRLF, quotes where needed, a byte order mark so that spreadsheets read it as
 * UTF-8. A cell that a spreadsheet would calculate (it starts with `=`, `+`, `-`, `@`, a tab or a carriage return) gets an
 * apostrophe before it, except a telephone number and a plain number.
 */
export function writeCsv(columns: readonly string[], rows: readonly (readonly string[])[]): string {
  const all = [columns, ...rows].map((row) => row.map(neutral));
  // The writer quotes only its own end of line; a lone one inside a cell would end the record for every reader.
  return stringify(all, { bom: true, record_delimiter: 'windows', quoted_match: /[\r\n]/ });
}

/**
 * What a cell held before `neutral`: one apostrophe before what a spreadsheet would calculate is taken off again.
 * @example plain("'=1+1") is '=1+1'; plain("'tis") stays
 */
export const plain = (cell: string): string => (/^'+[=+\-@\t\r]/.test(cell) ? cell.slice(1) : cell);

/** @example neutral('=1+1') is "'=1+1"; neutral('+441632960123') and neutral('-3.5') stay */
export function neutral(cell: string): string {
  // What looks as if it had one already gets another, so that exactly one comes off.
  if (!/^'*[=+\-@\t\r]/.test(cell)) return cell;
  if (/^-?\d+(\.\d+)?$/.test(cell)) return cell;
  if (/^\+\d{6,15}$/.test(cell) && readPhone(cell, 'GB') !== null) return cell;
  return `'${cell}`;
}
