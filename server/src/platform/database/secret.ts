import { randomBytes } from 'node:crypto';
import type { WithKeys } from './database';
import { isSealed } from './keys';
import type { Row } from './schema.generated';

const placeOf = (name: string) => `secret:${name}:value`;

/** A key that the application made for itself at first use; the same for all servers on one database, where it lies sealed. */
export async function readSecret(db: WithKeys, name: string): Promise<Buffer> {
  await db.change('INSERT IGNORE INTO secret (name, value) VALUES (:name, :value)', {
    name,
    value: db.keys.seal(placeOf(name), randomBytes(32)),
  });
  const [row] = await db.rows<Row<'secret', 'value'>>('SELECT value FROM secret WHERE name = :name', {
    name,
  });
  if (!row) throw new Error(`the key ${name} has gone`);
  return db.keys.open(placeOf(name), row.value);
}

/**
 * Seals with the first key of the key file what lies open or was sealed with another.
 * @throws Error when something was sealed with a key that is not in the file
 */
export async function sealSecrets(db: WithKeys): Promise<void> {
  for (const { name, value } of await db.rows<Row<'secret', 'name' | 'value'>>(
    'SELECT name, value FROM secret',
  )) {
    const open = isSealed(value) ? db.keys.open(placeOf(name), value) : value;
    if (!isSealed(value) || !db.keys.isFresh(value))
      await db.change('UPDATE secret SET value = :sealed WHERE name = :name AND value = :value', {
        ...{ name, value },
        sealed: db.keys.seal(placeOf(name), open),
      });
  }
}
