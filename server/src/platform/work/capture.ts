import { createHash } from 'node:crypto';
import type { Database, Queryable } from '../database/database';
import { readSchema, type Column, type Schema } from '../database/schema';
import { specOf, tables, type CapturedTable } from '../database/tables';

/**
 * Makes the triggers that copy what a unit of work writes into `change_row`, from the schema as it is. They write nothing while no unit of
 * work is under way (`@kettle_set` is null). Made anew when a table or its columns changed; safe to run from several servers at once.
 */
export async function installCapture(database: Database): Promise<void> {
  const schema = await readSchema(database, {});
  const known = await database.rows<{ name: string }>(
    'SELECT trigger_name AS name FROM information_schema.triggers WHERE trigger_schema = DATABASE() ORDER BY trigger_name',
  );
  const wanted = triggersOf(schema);
  const names = new Set(known.map(({ name }) => name));
  for (const { name } of known)
    if (!wanted.has(name)) await database.change(`DROP TRIGGER IF EXISTS ${name}`);
  for (const [name, sql] of wanted) if (!names.has(name)) await database.change(sql);
}

/** Name and statement of every trigger; the name carries a hash of the statement, so a stale one is told by its name. */
export function triggersOf(schema: Schema): Map<string, string> {
  const wanted = new Map<string, string>();
  for (const table of Object.keys(tables) as CapturedTable[])
    for (const op of ['insert', 'update', 'delete'] as const) {
      const body = bodyOf(table, op, schema.columns.get(table) ?? []);
      const hash = createHash('sha256').update(body).digest('hex').slice(0, 8);
      const name = `capture_${table}_${op}_${hash}`;
      wanted.set(name, `CREATE TRIGGER IF NOT EXISTS ${name} AFTER ${op} ON ${table} FOR EACH ROW ${body}`);
    }
  return wanted;
}

type Op = 'insert' | 'update' | 'delete';

function bodyOf(table: CapturedTable, op: Op, columns: readonly Column[]): string {
  const derived = new Set(specOf(table)?.derived);
  const own = columns.filter(({ name, isGenerated }) => !isGenerated && !derived.has(name));
  const row = op === 'delete' ? 'OLD' : 'NEW';
  const says = new Set(specOf(table)?.says);
  const refs = own.filter(({ isBytes, name }) => isBytes || says.has(name));
  const was = { insert: 'NULL', update: changedOf(own, 'OLD'), delete: wholeOf(own, 'OLD') }[op];
  const became = { insert: 'NULL', update: changedOf(own, 'NEW'), delete: 'NULL' }[op];
  // A change of what is derived is no change; one of the version alone says that something of the record changed.
  const isSame = own.map(({ name }) => `BINARY OLD.\`${name}\` <=> BINARY NEW.\`${name}\``).join(' AND ');
  const where = op === 'update' ? `@kettle_set IS NOT NULL AND NOT (${isSame})` : '@kettle_set IS NOT NULL';
  // Asked before the INSERT, which would be prepared for nothing: a change of what is derived takes half the time.
  return `IF ${where} THEN
    INSERT INTO change_row (set_id, position, table_name, row_key, op, refs, was, became)
    VALUES (@kettle_set, @kettle_at := @kettle_at + 1, '${table}', ${wholeOf(
      own.filter(({ isKey }) => isKey),
      row,
    )}, '${op}', ${wholeOf(refs, row)}, ${was}, ${became});
  END IF`;
}

/** The columns as a JSON object of texts; bytes in hex, NULL as null. */
const wholeOf = (columns: readonly Column[], row: string) =>
  columns.length === 0
    ? "'{}'"
    : `CONCAT('{', ${columns.map((column) => memberOf(column, row)).join(", ',', ")}, '}')`;

/** Only those that changed. */
const changedOf = (columns: readonly Column[], row: string) =>
  `CONCAT('{', CONCAT_WS(',', ${columns
    .map(
      (column) =>
        `IF(BINARY OLD.\`${column.name}\` <=> BINARY NEW.\`${column.name}\`, NULL, ${memberOf(column, row)})`,
    )
    .join(', ')}), '}')`;

function memberOf({ name, isBytes }: Column, row: string): string {
  const value = isBytes ? `HEX(${row}.\`${name}\`)` : `CAST(${row}.\`${name}\` AS CHAR)`;
  return `CONCAT('"${name}":', COALESCE(JSON_QUOTE(${value}), 'null'))`;
}

/** For tests: whether every table of the schema is either captured or known as machinery. */
export async function capturedTables(db: Queryable): Promise<readonly string[]> {
  const { columns } = await readSchema(db);
  return [...columns.keys()];
}
