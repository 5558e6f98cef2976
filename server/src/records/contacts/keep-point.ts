import type { Queryable } from '../../platform/database/database';
import { bytesOf, newId } from '../../platform/ids';

/** Keeps an address or number that turned out to be a person's: as theirs when they had none, else beside it. */
export async function keepPoint(
  tx: Queryable,
  contactId: string,
  kind: 'email' | 'phone',
  value: string,
  label: string | null = null,
): Promise<void> {
  const contact = bytesOf(contactId);
  const [known] = await tx.rows<{ value: string | null }>(
    `SELECT ${kind} AS value FROM contact WHERE id = :contact`,
    {
      contact,
    },
  );
  if (known?.value?.toLowerCase() === value.toLowerCase()) return;
  if (known?.value === null)
    await tx.change(`UPDATE contact SET ${kind} = :value, version = version + 1 WHERE id = :contact`, {
      contact,
      value,
    });
  else
    await tx.change(
      `INSERT INTO contact_point (id, contact_id, kind, label, value, position)
       SELECT :id, :contact, :kind, :label, :value, COALESCE(MAX(position), 0) + 1 FROM contact_point
        WHERE contact_id = :contact HAVING NOT EXISTS
          (SELECT 1 FROM contact_point p WHERE p.contact_id = :contact AND p.value = :value)`,
      { id: bytesOf(newId()), contact, kind, label, value },
    );
}
