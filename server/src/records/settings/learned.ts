import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';

/** What was learned of the organisation's own records, with the cases it rests on. */
export interface Learned {
  readonly value: number;
  readonly cases: number;
}

/** Everything that was learned last night, by name. */
export async function readLearned(db: Queryable): Promise<ReadonlyMap<string, Learned>> {
  const rows = await db.rows<Row<'learned', 'name' | 'value' | 'cases'>>(
    'SELECT name, value, cases FROM learned ORDER BY name',
  );
  return new Map(rows.map(({ name, value, cases }) => [name, { value, cases }]));
}

/** Keeps what was learned in place of what was known by that name; null when there is nothing to learn from any more. */
export async function keepLearned(tx: Queryable, name: string, learned: Learned | null): Promise<void> {
  await tx.change('DELETE FROM learned WHERE name = :name', { name });
  if (learned !== null)
    await tx.change('INSERT INTO learned (name, value, cases) VALUES (:name, :value, :cases)', {
      name,
      ...learned,
    });
}
