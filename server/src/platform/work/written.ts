import type { Queryable } from '../database/database';
import { bytesOf, type IdBytes } from '../ids';
import type { Row } from '../database/schema.generated';

/** Columns as text, bytes in hex. */
export type Image = Readonly<Record<string, string | null>>;

/** One row that a unit of work wrote. */
export interface WrittenRow {
  readonly position: number;
  readonly table: string;
  readonly key: string;
  readonly op: 'insert' | 'update' | 'delete';
  /** Its ids, and what its table says of a new row. */
  readonly refs: Image;
  readonly was: Image | null;
  readonly became: Image | null;
}

type StoredRow = Row<'change_row', 'position' | 'table_name' | 'row_key' | 'op' | 'refs' | 'was' | 'became'>;

/** What a change set wrote after a position, in order. Relies on the primary key. */
export async function readWritten(db: Queryable, setId: string, after = 0): Promise<WrittenRow[]> {
  const rows = await db.rows<StoredRow>(
    `SELECT position, table_name, row_key, op, refs, was, became FROM change_row
      WHERE set_id = :set AND position > :after ORDER BY position`,
    { set: bytesOf(setId), after },
  );
  return rows.map((row) => ({
    position: row.position,
    table: row.table_name,
    key: row.row_key,
    op: row.op,
    refs: imageOf(row.refs)!,
    was: imageOf(row.was),
    became: imageOf(row.became),
  }));
}

const imageOf = (text: string | null) => (text === null ? null : (JSON.parse(text) as Image));

/** `0193…` in hex as an id. */
export function idOfHex<Id extends string>(hex: string): Id {
  const low = hex.toLowerCase();
  return `${low.slice(0, 8)}-${low.slice(8, 12)}-${low.slice(12, 16)}-${low.slice(16, 20)}-${low.slice(20)}` as Id;
}

/** The key of a row that is known by one id, as the triggers write it. */
export const rowKeyOf = (id: string) => `{"id":"${id.replaceAll('-', '').toUpperCase()}"}`;

/** The id of a row that is known by one, as bytes. */
export const idBytesOfKey = (key: string): IdBytes =>
  Buffer.from((JSON.parse(key) as { id: string }).id, 'hex') as IdBytes;

/** What a unit of work wrote, asked for by what follows from it. */
export class Written {
  constructor(readonly rows: readonly WrittenRow[]) {}

  of(...names: readonly string[]): readonly WrittenRow[] {
    return this.rows.filter(({ table }) => names.includes(table));
  }

  /**
   * Ids that rows of a table name in a column, before or after.
   * @param fields only rows where one of these columns changed, or that came or went
   */
  ids(table: string, column: string, fields?: readonly string[]): string[] {
    const found = new Set<string>();
    for (const row of this.of(table)) {
      if (fields && row.op === 'update' && !fields.some((field) => field in (row.became ?? {}))) continue;
      for (const image of [row.refs, row.was]) {
        const hex = image?.[column];
        if (hex) found.add(idOfHex(hex));
      }
    }
    return [...found];
  }
}
