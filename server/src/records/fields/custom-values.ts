import type { CustomFieldType, CustomSubject, CustomValue } from '@kettle/contract';
import { judgeCustomValue, sayCustomValue } from '@kettle/core/fields';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { bytesOf, idOf, idOrNull } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { ValuesAt } from '../../platform/work/merge-change';
import type { Work } from '../../platform/work/work';
import { idOfHex } from '../../platform/work/written';
import { assertReadable } from '../rights/index';
import { readCustomFields } from './custom-fields';

type ValueRow = Row<
  'custom_value',
  'record_id' | 'field_id' | 'text_value' | 'number_value' | 'date_value' | 'person_id'
> &
  Row<'custom_field', 'type'>;

/** Where the custom fields of a record are kept, so that two people's changes meet field by field. */
export const customAt: ValuesAt = {
  values: 'custom_value',
  of: 'record_id',
  by: 'field_id',
  valueOf: (row) => row.text_value ?? row.number_value ?? row.date_value ?? row.person_id ?? null,
};

/** Which values go with the record `:id`: its own and, of a contact, those of its leads. No key ties a value to what it is of. */
export const customWith =
  'record_id = :id OR record_id IN (SELECT l.id FROM sales_lead l WHERE l.contact_id = :id)';

/** Values of custom fields that are in use, by record (as hex) and field. */
export async function readCustomValues(
  db: Queryable,
  recordIds: readonly Buffer[],
): Promise<Map<string, Record<string, CustomValue>>> {
  const rows = await db.rows<ValueRow>(
    `SELECT v.record_id, v.field_id, f.type, v.text_value, v.number_value, v.date_value, v.person_id
       FROM custom_value v JOIN custom_field f ON f.id = v.field_id AND f.retired_at IS NULL
      WHERE v.record_id IN (:ids)`,
    { ids: recordIds },
  );
  const values = new Map<string, Record<string, CustomValue>>();
  for (const row of rows) {
    const key = row.record_id.toString('hex');
    const record = values.get(key) ?? {};
    record[idOf<string>(row.field_id)] = customValueOf(row, idOrNull<string>(row.person_id));
    values.set(key, record);
  }
  return values;
}

/** The values of one record by field. */
export async function readCustomOf(
  db: Queryable,
  record: { readonly id: Buffer },
): Promise<Record<string, CustomValue>> {
  return (await readCustomValues(db, [record.id])).get(record.id.toString('hex')) ?? {};
}

function customValueOf(
  row: Pick<ValueRow, 'type' | 'text_value' | 'number_value' | 'date_value'>,
  personId: string | null,
): CustomValue {
  if (row.type === 'yes-no') return row.number_value !== null && Number(row.number_value) === 1;
  if (row.number_value !== null) return Number(row.number_value);
  return row.date_value ?? row.text_value ?? personId;
}

/** The values of a record as JSON, for a statement that reads everything of it at once. */
export const customJson = (
  record: string,
) => `(SELECT JSON_ARRAYAGG(JSON_OBJECT('field', LOWER(HEX(v.field_id)), 'type', f.type,
          'text_value', v.text_value, 'number_value', v.number_value, 'date_value', v.date_value, 'person', LOWER(HEX(v.person_id))))
     FROM custom_value v JOIN custom_field f ON f.id = v.field_id AND f.retired_at IS NULL WHERE v.record_id = ${record})`;

interface CustomJson extends Pick<ValueRow, 'type' | 'text_value' | 'number_value' | 'date_value'> {
  field: string;
  person: string | null;
}

/** What `customJson` read, by field. */
export const customOfJson = (json: string | null): Record<string, CustomValue> =>
  Object.fromEntries(
    ((json === null ? [] : JSON.parse(json)) as CustomJson[]).map(({ field, person, ...value }) => [
      idOfHex<string>(field),
      customValueOf(value, person === null ? null : idOfHex<string>(person)),
    ]),
  );

/** Names and values of a record's custom fields, for what the journal says of a change; `empty` for none. */
export async function sayCustom(
  w: Pick<Work, 'rows' | 'change' | 'settings'>,
  subject: CustomSubject,
): Promise<(values: Readonly<Record<string, CustomValue>>) => (readonly [string, string])[]> {
  const fields = await readCustomFields(w, subject);
  const { currency } = (await w.settings()).organisation;
  return (values) =>
    fields.map(({ id, name, type }) => [name, sayCustomValue(values[id], type, currency) || 'empty']);
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
    const reason = field ? judgeCustomValue(value, field) : $localize`is not a field here`;
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
