import type { CustomField, CustomSubject } from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import { textsOf } from '../../platform/database/values';
import { idOf } from '../../platform/ids';
import type { Row } from '../../platform/database/schema.generated';

type FieldRow = Row<
  'custom_field',
  'id' | 'subject' | 'name' | 'type' | 'choices' | 'retired_at' | 'version'
>;

const columns = 'id, subject, name, type, choices, retired_at, version';

function fieldOf(row: FieldRow): CustomField {
  return {
    id: idOf(row.id),
    subject: row.subject,
    name: row.name,
    type: row.type,
    choices: textsOf(row.choices),
    isRetired: row.retired_at !== null,
    version: row.version,
  };
}

/** Fields in their order; retired ones only when asked for. */
export async function readCustomFields(
  db: Queryable,
  subject: CustomSubject | null,
  withRetired = false,
): Promise<CustomField[]> {
  const rows = await db.rows<FieldRow>(
    `SELECT ${columns} FROM custom_field
      WHERE (:subject IS NULL OR subject = :subject) ${withRetired ? '' : 'AND retired_at IS NULL'}
      ORDER BY subject, position, id`,
    { subject },
  );
  return rows.map(fieldOf);
}
