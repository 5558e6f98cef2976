import type { Queryable } from '../../platform/database/database';
import { bytesOf, idOf } from '../../platform/ids';
import type { Row } from '../../platform/database/schema.generated';

const mostSteps = 10;

/** The id a contact goes by now: its own, or that of the contact it was merged into, however many times. */
export async function contactIdOf(db: Queryable, id: string): Promise<string> {
  let current = id;
  for (let step = 0; step < mostSteps; step += 1) {
    const found = await db.rows('SELECT 1 FROM contact WHERE id = :id', { id: bytesOf(current) });
    if (found.length > 0) return current;
    const [merge] = await db.rows<Row<'contact_merge', 'kept_id'>>(
      `SELECT kept_id FROM contact_merge WHERE gone_id = :id
        ORDER BY merged_at DESC, id DESC LIMIT 1`,
      { id: bytesOf(current) },
    );
    if (!merge) return current;
    current = idOf(merge.kept_id);
  }
  return current;
}
