import type { CustomField, CustomFieldType, CustomSubject, CustomValue } from '@kettle/contract';
import { judgeCustomValue } from '@kettle/core/fields';
import type { Queryable } from '../../platform/database/database';
import { textsOf } from '../../platform/database/values';
import type { Work } from '../../platform/work/work';
import { assertReadable } from '../rights/index';
import { bytesOf, idOf } from '../../platform/ids';
import { Problem } from '../../platform/problem';
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

/**
 * Writes values of custom fields; null empties one, fields that are not named stay.
 * @throws Problem `invalid-request` on the field whose value does not fit
 */
export async function writeCustomValues(
  w: Pick<Work, 'rows' | 'change' | 'who'>,
  subject: CustomSubject,
  recordId: string,
  values: Readonly<Record<string, CustomValue>>,
): Promise<void> {
  const ids = Object.keys(values);
  if (ids.length === 0) return;
  const fields = new Map((await readCustomFields(w, subject)).map((field) => [field.id as string, field]));
  const rows: (string | number | Buffer | null)[][] = [];
  for (const id of ids) {
    const field = fields.get(id);
    const value = values[id] ?? null;
    const reason = field ? judgeCustomValue(value, field) : 'is not a field here';
    if (!field || reason !== null) throw wrongValue(id, reason ?? '');
    if (field.type === 'person' && value !== null && w.who !== null)
      await assertReadable(w, w.who, String(value), ['contact']);
    if (value !== null) rows.push([bytesOf(recordId), bytesOf(id), ...typedColumns(field.type, value)]);
  }
  await w.change('DELETE FROM custom_value WHERE record_id = :record AND field_id IN (:ids)', {
    record: bytesOf(recordId),
    ids: ids.map((id) => bytesOf(id)),
  });
  if (rows.length > 0)
    await w.change(
      'INSERT INTO custom_value (record_id, field_id, text_value, number_value, date_value, person_id) VALUES :rows',
      { rows },
    );
}

function wrongValue(fieldId: string, message: string): Problem {
  return new Problem('invalid-request', {}, { fields: [{ path: `custom.${fieldId}`, message }] });
}

function typedColumns(type: CustomFieldType, value: Exclude<CustomValue, null>) {
  if (type === 'person') return [null, null, null, bytesOf(String(value))];
  if (type === 'date') return [null, null, String(value), null];
  if (typeof value === 'boolean') return [null, value ? 1 : 0, null, null];
  return typeof value === 'number' ? [null, value, null, null] : [value, null, null, null];
}
