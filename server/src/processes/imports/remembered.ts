import type { FileFormats, ImportKind } from '@kettle/contract';
import * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { jsonOf } from '../../platform/database/values';
import { bytesOf } from '../../platform/ids';

const lookedAt = 50;
const layout = z.object({ columns: z.array(z.object({ name: z.string() })) });

interface Asked {
  readonly userId: string;
  readonly kind: ImportKind;
  /** Names of the columns. */
  readonly names: readonly string[];
}

/**
 * What the columns of a file were the last time that one with the same was written: one's own first, then a colleague's. Null the first time.
 * Relies on import_remembered.
 */
export async function readRemembered(
  db: Queryable,
  { userId, kind, names }: Asked,
): Promise<{ readonly fields: string[]; readonly formats: FileFormats } | null> {
  const rows = await db.rows<
    Row<'import_batch', 'date_order' | 'decimal_mark'> & { layout: unknown; fields: unknown }
  >(
    `SELECT fields, layout, date_order, decimal_mark FROM import_batch
      WHERE kind = :kind AND applied_at IS NOT NULL AND layout IS NOT NULL AND state <> 'undone' AND type <> 'vcard'
      ORDER BY user_id = :user DESC, applied_at DESC, id LIMIT ${lookedAt}`,
    { kind, user: bytesOf(userId) },
  );
  for (const row of rows) {
    const known = layout.parse(jsonOf(row.layout)).columns.map(({ name }) => name);
    if (known.length !== names.length || !names.every((name) => known.includes(name))) continue;
    const fields = z.array(z.string()).parse(jsonOf(row.fields));
    return {
      fields: names.map((name) => fields[known.indexOf(name)] ?? 'ignore'),
      formats: { dates: row.date_order, numbers: row.decimal_mark },
    };
  }
  return null;
}
