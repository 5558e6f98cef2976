import type { TextRow } from '@kettle/core/imports';
import { unzipSync } from 'fflate';
import readXlsxFile from 'read-excel-file/node';
import { Problem } from '../../platform/problem';

/** A workbook that is larger than this once it is unpacked is no list of a team's. */
const mostUnpacked = 400 * 1024 * 1024;

export interface SheetRows {
  readonly name: string;
  readonly rows: readonly TextRow[];
}

/** The sheets of a workbook that have rows, with every cell as text that reads the same however a file writes days and numbers. @throws Problem `unreadable-file` */
export async function readSheets(content: Buffer): Promise<SheetRows[]> {
  assertSize(content);
  const sheets = await readWorkbook(content);
  const read = sheets.map(({ sheet, data }) => ({
    name: sheet,
    rows: data
      .map((cells, at) => ({ line: at + 1, cells: cells.map(textOf) }))
      .filter(({ cells }) => cells.some((cell) => cell !== '')),
  }));
  const filled = read.filter(({ rows }) => rows.length > 0);
  if (filled.length === 0) throw new Problem('unreadable-file', { why: $localize`it is empty.` });
  return filled;
}

async function readWorkbook(content: Buffer) {
  try {
    return await readXlsxFile(content, { trim: true });
  } catch {
    throw unreadable();
  }
}

const unreadable = () =>
  new Problem('unreadable-file', {
    why: $localize`it is no XLSX workbook, or it is locked with a password. Save it anew as XLSX or CSV.`,
  });

/** By what the archive itself says, so that nothing is unpacked. */
function assertSize(content: Buffer): void {
  let size = 0;
  try {
    unzipSync(content, {
      filter: ({ originalSize }) => {
        size += originalSize;
        return false;
      },
    });
  } catch {
    throw unreadable();
  }
  if (size > mostUnpacked)
    throw new Problem('unreadable-file', {
      why: $localize`it is too large once it is unpacked. Save its sheet as CSV.`,
    });
}

/** A number keeps its point; three places would read as thousands where a comma stands before the places, so that they are four. */
function textOf(cell: unknown): string {
  if (cell === null || cell === undefined) return '';
  if (cell instanceof Date) return cell.toISOString().slice(0, 10);
  if (typeof cell === 'number') return numberText(cell);
  if (typeof cell === 'boolean') return cell ? 'yes' : 'no';
  return typeof cell === 'string' ? cell.trim() : '';
}

function numberText(value: number): string {
  const text = Number.isInteger(value) ? value.toFixed(0) : String(Number(value.toPrecision(15)));
  return /^-?\d+\.\d{3}$/.test(text) ? `${text}0` : text;
}
