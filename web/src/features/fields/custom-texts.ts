import type { CustomField, CustomValue } from '@kettle/contract';
import { readCustomValue } from '@kettle/core/fields';
import { ApiProblem } from '../../api/api';

/** Values of custom fields as inputs show them, by field id. */
function customTexts(
  values: Readonly<Record<string, CustomValue>>,
  fields: readonly CustomField[],
): Record<string, string> {
  return Object.fromEntries(fields.map((field) => [field.id, textOf(values[field.id] ?? null, field)]));
}

/** Fills in what is not there yet: the fields may come after the form that shows them. */
export function addCustomTexts(
  texts: Record<string, string>,
  values: Readonly<Record<string, CustomValue>>,
  fields: readonly CustomField[],
): void {
  for (const [id, text] of Object.entries(customTexts(values, fields))) texts[id] ??= text;
}

/** What was typed, read by each field's type: those that differ from before, or what is wrong with the first that does not fit. */
export function readCustomTexts(
  texts: Readonly<Record<string, string>>,
  fields: readonly CustomField[],
  before: Readonly<Record<string, CustomValue>>,
): Record<string, CustomValue> | ApiProblem {
  const values: Record<string, CustomValue> = {};
  for (const field of fields) {
    const text = texts[field.id];
    // A field that was not shown yet was not emptied.
    if (text === undefined) continue;
    const read = readCustomValue(text, field);
    if (read.kind === 'wrong') {
      const wrong = [{ path: `custom.${field.id}`, message: read.reason }];
      return new ApiProblem('invalid-request', `${field.name}: ${read.reason}.`, wrong);
    }
    if (read.value !== (before[field.id] ?? null)) values[field.id] = read.value;
  }
  return values;
}

function textOf(value: CustomValue, field: CustomField): string {
  if (field.type === 'money' && typeof value === 'number') return (value / 100).toFixed(2);
  return typeof value === 'boolean' ? (value ? 'yes' : 'no') : String(value ?? '');
}
