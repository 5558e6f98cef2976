import type { Queryable } from '../src/platform/database/database';
import { readSchema } from '../src/platform/database/schema';
import { tables } from '../src/platform/database/tables';

/** What counts versions, or tells that something happened, is no part of how things are. */
const left = new Set(['version']);

/**
 * Every row of every table that people change, derived columns too, as text and in order: two of these are equal when nothing tells the two
 * moments apart but versions and the journal's removed entries and notes of undoing.
 */
export async function wholeState(db: Queryable): Promise<Record<string, string[]>> {
  const { columns } = await readSchema(db);
  const state: Record<string, string[]> = {};
  for (const table of [...Object.keys(tables), 'channel_fact']) {
    const list = (columns.get(table) ?? [])
      .filter(({ name }) => !left.has(name))
      .map(({ name, isBytes }) => `COALESCE(${isBytes ? `HEX(\`${name}\`)` : `\`${name}\``}, 'NULL')`);
    const where = table === 'journal_entry' ? "WHERE removed_at IS NULL AND body NOT LIKE 'Undone: %'" : '';
    const rows = await db.rows<{ line: string }>(
      `SELECT CONCAT_WS(' | ', ${list.join(', ')}) AS line FROM ${table} ${where} ORDER BY 1`,
    );
    state[table] = rows.map(({ line }) => line);
  }
  return state;
}
