import { randomBytes } from 'node:crypto';
import type { Queryable } from './database';
import type { Row } from './schema.generated';

/** A key that the application made for itself at first use; the same for all servers on one database. */
export async function readSecret(db: Queryable, name: string): Promise<Buffer> {
  await db.change('INSERT IGNORE INTO secret (name, value) VALUES (:name, :value)', {
    name,
    value: randomBytes(32),
  });
  const [row] = await db.rows<Row<'secret', 'value'>>('SELECT value FROM secret WHERE name = :name', {
    name,
  });
  if (!row) throw new Error(`the key ${name} has gone`);
  return row.value;
}
