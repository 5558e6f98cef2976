import { parse, type Options } from 'csv-parse/sync';

export interface TextTable {
  readonly columns: readonly string[];
  readonly rows: readonly TextRow[];
  /** Records the parser could not read, by the line they start at. */
  readonly unreadable: readonly { readonly line: number; readonly reason: string }[];
  readonly delimiter: string;
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
 * usual line ends; a byte order mark is dropped and the delimiter found from the text. The first record names the columns.
 * What cannot be read (a quote that is never closed) is reported with the line it starts on.
 */
export function readCsv(text: string, delimiter = findDelimiter(text)): TextTable {
  const { records, unreadable } = parseRecords(text, delimiter);
  const [header, ...rows] = records;
  return { columns: (header?.cells ?? []).map((name) => name.trim()), rows, unreadable, delimiter };
}

/** The delimiter that cuts the first records into the most columns of one same count; a comma when none does. */
export function findDelimiter(text: string): string {
  const sample = text.slice(0, 20_000);
  let best: { delimiter: string; columns: number } = { delimiter: ',', columns: 1 };
  for (const delimiter of delimiters) {
    const { records } = parseRecords(sample, delimiter, 10);
    const columns = records[0]?.cells.length ?? 0;
    const even = records.every((record) => record.cells.length === columns);
    if (even && columns > best.columns) best = { delimiter, columns };
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
