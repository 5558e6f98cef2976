import { parse, type Options } from 'csv-parse/sync';

export interface TextTable {
  readonly columns: readonly string[];
  readonly rows: readonly TextRow[];
  /** Records the parser could not read, by the line they start at. */
  readonly unreadable: readonly { readonly line: number; readonly reason: string }[];
  /** Null for a table that is not cut by one. */
  readonly delimiter: string | null;
}

export interface TextRow {
  /** Line of the file where the record starts, counted from 1. */
  readonly line: number;
  readonly cells: readonly string[];
}

const delimiters = [',', ';', '\t', '|'] as const;

interface ParsedRecord {
  record: string[];
  info: { lines: number; bytes: number };
}

/**
 * Reads delimited text as RFC 4180 describes it: quoted fields, doubled quotes, line breaks inside quotes, any of the
 * usual line ends; a byte order mark is dropped and the delimiter found from the text, or taken from a first line `sep=;`. Lines of a
 * title above the columns are passed over: the first record that is as wide as the others names the columns.
 * What cannot be read (a quote that is never closed) is reported with the line it starts on.
 */
export function readCsv(text: string, delimiter = findDelimiter(text)): TextTable {
  const { records, unreadable } = parseRecords(withoutSep(text), delimiter);
  return { ...tableOf(records), unreadable, delimiter };
}

/** Records with the first that is as wide as the others as names of the columns; lines of a title above it are passed over. */
export function tableOf(records: readonly TextRow[]): Pick<TextTable, 'columns' | 'rows'> {
  const [header, ...rows] = records.slice(headOf(records));
  return { columns: (header?.cells ?? []).map((name) => name.trim()), rows };
}

const sepLine = /^\uFEFF?sep=(.)(?=\r|\n|$)/i;
/** The line stays, empty, so that lines count as in the file. */
const withoutSep = (text: string) => text.replace(sepLine, '');

/** Records are looked at this far to see how wide they are. */
const looked = 30;

/** How wide most records are, and how many of those looked at are so. */
function usualWidth(records: readonly TextRow[]): { readonly width: number; readonly share: number } {
  const counts = new Map<number, number>();
  const sample = records.slice(0, looked);
  for (const { cells } of sample) counts.set(cells.length, (counts.get(cells.length) ?? 0) + 1);
  const [width = 1, count = 0] = [...counts].sort(([a, m], [b, n]) => n - m || b - a)[0] ?? [];
  return { width, share: sample.length === 0 ? 0 : count / sample.length };
}

/** Titles above a table have one cell with words, where the table has several columns. */
function headOf(records: readonly TextRow[]): number {
  const { width } = usualWidth(records);
  if (width < 2) return 0;
  const isTitle = ({ cells }: TextRow) => cells.filter((cell) => cell.trim() !== '').length <= 1;
  const head = records.findIndex((record) => !isTitle(record));
  return head > 0 && head < looked ? head : 0;
}

/** The delimiter that cuts the most records into one same number of columns, and of such the one with most; a comma when none does. */
export function findDelimiter(text: string): string {
  const said = sepLine.exec(text)?.[1];
  if (said !== undefined) return said;
  const sample = text.slice(0, 20_000);
  let best = { delimiter: ',', width: 1, share: 0 };
  for (const delimiter of delimiters) {
    const { width, share } = usualWidth(parseRecords(sample, delimiter, looked).records);
    if (width < 2) continue;
    if (best.width < 2 || share > best.share || (share === best.share && width > best.width))
      best = { delimiter, width, share };
  }
  return best.delimiter;
}

function parseRecords(text: string, delimiter: string, most?: number) {
  let failure: string | null = null;
  const options: Options<string[], string[]> = {
    bom: true,
    // Any of them, also mixed in one file; found from the first line alone they would not be.
    record_delimiter: ['\r\n', '\n', '\r'],
    delimiter,
    info: true,
    // A stray quote inside a field is kept as text: refusing it would swallow the record after it.
    relax_quotes: true,
    relax_column_count: true,
    skip_empty_lines: true,
    skip_records_with_error: true,
    on_skip: (error) => {
      failure = readableReason(error?.code);
      return undefined;
    },
    ...(most === undefined ? {} : { to: most }),
  };
  const parsed = parse(text, options) as unknown as ParsedRecord[];
  const records = parsed.map(({ record, info }) => ({ line: startLine(record, info.lines), cells: record }));
  const lastLine = parsed.at(-1)?.info.lines ?? 0;
  return { records, unreadable: failure === null ? [] : [{ line: lastLine + 1, reason: failure }] };
}

/** The parser tells the line a record ends on; line breaks inside its quotes lead back to the line it starts on. */
function startLine(record: readonly string[], endLine: number): number {
  const breaks = record.reduce((sum, cell) => sum + (cell.match(/\r\n|\r|\n/g)?.length ?? 0), 0);
  return endLine - breaks;
}

function readableReason(code: string | undefined): string {
  if (code === 'CSV_QUOTE_NOT_CLOSED')
    return $localize`a quotation mark is opened here and never closed; nothing after it could be read`;
  return $localize`nothing from here on could be read`;
}
