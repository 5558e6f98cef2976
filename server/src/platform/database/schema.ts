import type { Queryable } from './database';

/** A column as the database tells it. */
export interface Column {
  readonly name: string;
  /** Bytes are written in hex wherever rows are kept as text. */
  readonly isBytes: boolean;
  readonly isGenerated: boolean;
  readonly isKey: boolean;
}

export interface Reference {
  readonly table: string;
  readonly column: string;
  readonly parent: string;
  readonly parentColumn: string;
}

export interface Schema {
  readonly columns: ReadonlyMap<string, readonly Column[]>;
  /** Every foreign key that is one column. */
  readonly references: readonly Reference[];
}

const known = new WeakMap<object, Promise<Schema>>();

/** Tables, columns and references of the schema at hand, read once for each database that is open. */
export function readSchema(db: Queryable, keeper: object = db): Promise<Schema> {
  const reading = known.get(keeper) ?? read(db);
  known.set(keeper, reading);
  return reading;
}

async function read(db: Queryable): Promise<Schema> {
  const rows = await db.rows<{
    table_name: string;
    column_name: string;
    data_type: string;
    is_generated: string;
    column_key: string;
  }>(
    `SELECT c.table_name AS table_name, c.column_name AS column_name, c.data_type AS data_type, c.is_generated AS is_generated,
            c.column_key AS column_key
       FROM information_schema.columns c JOIN information_schema.tables t
         ON t.table_schema = c.table_schema AND t.table_name = c.table_name AND t.table_type = 'BASE TABLE'
      WHERE c.table_schema = DATABASE() ORDER BY c.table_name, c.ordinal_position`,
  );
  const columns = new Map<string, Column[]>();
  for (const row of rows) {
    const list = columns.get(row.table_name) ?? [];
    columns.set(row.table_name, list);
    list.push({
      name: row.column_name,
      isBytes: /binary|blob/.test(row.data_type),
      isGenerated: row.is_generated !== 'NEVER',
      isKey: row.column_key === 'PRI',
    });
  }
  const references = await db.rows<Reference>(
    `SELECT table_name AS \`table\`, column_name AS \`column\`, referenced_table_name AS parent, referenced_column_name AS parentColumn
       FROM information_schema.key_column_usage
      WHERE table_schema = DATABASE() AND referenced_table_name IS NOT NULL ORDER BY table_name, column_name`,
  );
  return { columns, references };
}
