import type { WithKeys } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { instantOf, sqlInstant } from '../../platform/database/values';

const place = 'erased_mark';
const marksAtOnce = 1000;

/** Remembers addresses and numbers of somebody who is erased, as keyed hashes: what they were is told by none. */
export async function markErased(
  w: WithKeys & { readonly now: string },
  values: readonly string[],
): Promise<void> {
  const rows = [...new Set(values)].map((value) => [w.keys.marks(place, value)[0], sqlInstant(w.now)]);
  if (rows.length > 0) await w.change('INSERT IGNORE INTO erased_mark (mark, at) VALUES :rows', { rows });
}

/** When the person behind an address or number was erased, by what was asked for; what was never erased is left out. */
export async function findErased(db: WithKeys, values: readonly string[]): Promise<Map<string, string>> {
  const of = new Map<string, string>();
  for (const value of new Set(values))
    for (const mark of db.keys.marks(place, value)) of.set(mark.toString('hex'), value);
  const found = new Map<string, string>();
  const marks = [...of.keys()].map((hex) => Buffer.from(hex, 'hex'));
  for (let from = 0; from < marks.length; from += marksAtOnce) {
    const rows = await db.rows<Row<'erased_mark', 'mark' | 'at'>>(
      'SELECT mark, at FROM erased_mark WHERE mark IN (:marks)',
      { marks: marks.slice(from, from + marksAtOnce) },
    );
    for (const { mark, at } of rows) found.set(of.get(Buffer.from(mark).toString('hex'))!, instantOf(at));
  }
  return found;
}
