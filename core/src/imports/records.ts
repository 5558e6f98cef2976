import type { FileFormats } from '@kettle/contract/imports/kinds';
import * as z from 'zod';
import { emailKey, nameKey } from '../duplicates';
import { sayCount, writeNumber } from '../locale';
import { placesOf, sayMoneyInFull } from '../money';
import { sayDate } from '../time';
import type { ImportColumn } from './columns';
import type { TextRow } from './csv';
import { countryOf, readTags, type CellProblem } from './draft';
import { readFileAmount, readFileDate, readFileNumber } from './formats';
import { plain } from './write-csv';

export type RecordValue = string | number | boolean | readonly string[];

/** A record as a file describes it: what its cells say, by column; empty cells say nothing. Amounts are in minor units of `currency`. */
export interface RecordDraft {
  readonly line: number;
  readonly values: Readonly<Record<string, RecordValue>>;
}

export interface JudgedRecord {
  readonly draft: RecordDraft;
  readonly problems: readonly CellProblem[];
}

export interface RecordSetting {
  readonly columns: readonly ImportColumn[];
  /** What each column of the file holds, by key; null is left out. */
  readonly mapping: readonly (string | null)[];
  /** Names of the file's columns. */
  readonly names: readonly string[];
  readonly formats: FileFormats;
  /** What amounts are in where the file does not say, ISO 4217. */
  readonly currency: string;
}

const address = z.email();
const currencies: ReadonlySet<string> = new Set(Intl.supportedValuesOf('currency'));

/**
 * Reads a row by what its columns hold, and tells every cell that is wrong, by the name its column has in the file.
 * @example with a column `price` mapped to an amount, `£4,400` is 440000
 */
export function judgeRecord(row: TextRow, setting: RecordSetting): JudgedRecord {
  const problems: CellProblem[] = [];
  const texts = new Map<string, { readonly text: string; readonly column: string }>();
  setting.mapping.forEach((key, at) => {
    const text = plain((row.cells[at] ?? '').trim());
    if (key !== null && text !== '') texts.set(key, { text, column: setting.names[at] ?? key });
  });
  const values: Record<string, RecordValue> = {};
  const read = (column: ImportColumn, currency: string) => {
    const cell = texts.get(column.key);
    if (cell === undefined) {
      if (column.isNeeded === true)
        problems.push({ column: nameOf(column, setting), reason: $localize`is empty` });
      return;
    }
    const value = readCell(cell.text, column, setting.formats, currency);
    if (typeof value === 'object' && 'wrong' in value)
      problems.push({ column: cell.column, reason: value.wrong });
    else values[column.key] = value;
  };
  const ofCurrency = setting.columns.find(({ type }) => type === 'currency');
  if (ofCurrency !== undefined) read(ofCurrency, setting.currency);
  const currency = typeof values.currency === 'string' ? values.currency : setting.currency;
  for (const column of setting.columns) if (column !== ofCurrency) read(column, currency);
  if (row.cells.slice(setting.names.length).some((cell) => cell.trim() !== ''))
    problems.push({
      column: 'row',
      reason: $localize`the row has ${row.cells.length}:length: columns, the first line ${setting.names.length}:length2:`,
    });
  return { draft: { line: row.line, values }, problems };
}

/** The file's own name for it, or ours where it has no such column. */
function nameOf({ key, name }: ImportColumn, { mapping, names }: RecordSetting): string {
  const at = mapping.indexOf(key);
  return at < 0 ? name : (names[at] ?? name);
}

interface Wrong {
  readonly wrong: string;
}
const wrong = (reason: string): Wrong => ({ wrong: reason });

function readCell(
  text: string,
  column: ImportColumn,
  { dates, numbers }: FileFormats,
  currency: string,
): RecordValue | Wrong {
  switch (column.type) {
    case 'text':
      return text.length > (column.most ?? 160)
        ? wrong($localize`is longer than ${sayCount(column.most ?? 160, $localize`letter|letters`)}:letters:`)
        : text;
    case 'date':
      return (
        readFileDate(text, dates) ??
        wrong($localize`“${text}:text:” is not a day as the file is said to write them`)
      );
    case 'amount':
      return (
        readFileAmount(text, currency, numbers) ??
        wrong(
          $localize`“${text}:text:” is not an amount in ${currency}:currency: as the file is said to write numbers, with ${placesOf(currency)}:places: places at most`,
        )
      );
    case 'number':
      return readCount(text, column, numbers);
    case 'yes-no':
      return readYesNo(text);
    case 'list':
      return readTags(text);
    case 'email': {
      const mail = emailKey(text);
      return address.safeParse(mail).success
        ? mail
        : wrong($localize`“${text}:text:” is not an e-mail address`);
    }
    case 'link':
      return isAddress(text)
        ? text
        : wrong($localize`“${text}:text:” is not an address such as https://firm.example`);
    case 'currency':
      return currencies.has(text.toUpperCase())
        ? text.toUpperCase()
        : wrong($localize`“${text}:text:” is not a currency such as GBP`);
    case 'country':
      return (
        countryOf(text) ??
        wrong($localize`“${text}:text:” is not a country known here; use its two-letter code`)
      );
    case 'choice': {
      const key = nameKey(text);
      const found = column.choices!.find(
        ({ value, names }) => nameKey(value) === key || names.some((name) => nameKey(name) === key),
      );
      return (
        found?.value ??
        wrong(
          $localize`there is no “${text}:text:”; there are ${column.choices!.map(({ value }) => value).join(', ')}:join:`,
        )
      );
    }
  }
}

function readCount(
  text: string,
  { least = -Infinity, most = Infinity }: ImportColumn,
  marks: FileFormats['numbers'],
) {
  const value = readFileNumber(text.replace(/\s*%$/, ''), marks)?.value;
  if (value === undefined) return wrong($localize`“${text}:text:” is not a number`);
  return value >= least && value <= most
    ? value
    : wrong($localize`must be from ${writeNumber(least)}:least: to ${writeNumber(most)}:most:`);
}

const yes = new Set(['yes', 'y', 'true', '1', 'x', 'on', 'ja', 'oui', 'si', 'sim', 'tak']);
const no = new Set(['no', 'n', 'false', '0', 'off', 'nein', 'nee', 'non', 'nao', 'nie', 'nej']);

function readYesNo(text: string): boolean | Wrong {
  const word = nameKey(text);
  if (yes.has(word)) return true;
  return no.has(word) ? false : wrong($localize`“${text}:text:” is neither yes nor no`);
}

function isAddress(text: string): boolean {
  try {
    return ['http:', 'https:'].includes(new URL(text).protocol);
  } catch {
    return false;
  }
}

/** A value as it is read in the preview. */
export function sayValue(
  value: RecordValue | null | undefined,
  column: ImportColumn,
  currency: string,
  today: string,
): string {
  if (value === undefined || value === null || value === '') return '';
  if (typeof value === 'boolean') return value ? $localize`yes` : $localize`no`;
  if (typeof value === 'number')
    return column.type === 'amount' ? sayMoneyInFull(value, currency) : writeNumber(value);
  if (typeof value !== 'string') return value.join(', ');
  return column.type === 'date' ? sayDate(value, today) : value;
}
