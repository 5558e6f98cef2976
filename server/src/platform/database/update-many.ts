import type { Transaction, SqlParameters, SqlValue } from './database';

type Scalar = string | number | boolean | null | Buffer;

const rowsAtOnce = 250;

/**
 * Gives each of several rows its own values, in one statement for 250 of them.
 * @param rows by the table's `id`; every one names the same columns
 * @param more columns that are set by what the database finds itself: `['t.count = (SELECT …)']`
 * @example
 * await updateMany(db, 'contact', [{ id, search_text: 'ellery maud' }]);
 */
export async function updateMany(
  db: Pick<Transaction, 'later'>,
  table: string,
  rows: readonly Readonly<Record<string, Scalar> & { id: Buffer }>[],
  more: (alias: string) => readonly string[] = () => [],
): Promise<void> {
  const columns = Object.keys(rows[0] ?? {});
  const set = columns.filter((column) => column !== 'id').map((column) => `t.${column} = v.${column}`);
  for (let from = 0; from < rows.length; from += rowsAtOnce) {
    const parameters: Record<string, SqlValue> = {};
    const lines = rows.slice(from, from + rowsAtOnce).map((row, line) =>
      columns
        .map((column, index) => {
          parameters[`p${line}_${index}`] = row[column] ?? null;
          return line === 0 ? `:p${line}_${index} AS ${column}` : `:p${line}_${index}`;
        })
        .join(', '),
    );
    await db.later(
      `UPDATE ${table} t JOIN (SELECT ${lines.join(' UNION ALL SELECT ')}) v ON t.id = v.id SET ${[...set, ...more('t')].join(', ')}`,
      parameters as SqlParameters,
    );
  }
}
