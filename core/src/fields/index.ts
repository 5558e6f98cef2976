import type { CustomField, CustomFieldType, CustomValue } from '@kettle/contract';
import { nameKey } from '../duplicates';
import { isMonthFirst, numberFormat, readNumber, writeNumber } from '../locale';
import { readMoney, sayMoneyInFull, writeMoney } from '../money';

export type ReadValue =
  | { readonly kind: 'read'; readonly value: CustomValue }
  | { readonly kind: 'wrong'; readonly reason: string };

type Field = Pick<CustomField, 'type' | 'choices'>;

const read = (value: CustomValue): ReadValue => ({ kind: 'read', value });
const wrong = (reason: string): ReadValue => ({ kind: 'wrong', reason });

/**
 * Reads what a person typed, or a file holds, into a custom field's value; empty text is null. Money is kept in minor
 * units of the organisation's currency, dates are ISO 8601 or as the reader's country writes them, a person is given by the id of a contact.
 * @example readCustomValue('24/11/2026', { type: 'date', choices: [] }, 'GBP') reads '2026-11-24'
 */
export function readCustomValue(text: string, field: Field, currency: string): ReadValue {
  const typed = text.trim();
  if (typed === '') return read(null);
  switch (field.type) {
    case 'text':
      return typed.length > 500 ? wrong($localize`is longer than 500 characters`) : read(typed);
    case 'number': {
      const number = readNumber(typed)?.value ?? Number.NaN;
      return Number.isFinite(number) && Math.abs(number) < 1e15
        ? read(number)
        : wrong($localize`“${text}:text:” is not a number`);
    }
    case 'money': {
      const [, minus, size] = /^([-−–]?)(.*)$/s.exec(typed)!;
      const amount = readMoney(size!, currency);
      return amount === null
        ? wrong(
            $localize`“${text}:text:” is not an amount in ${currency}:currency: such as ${numberFormat().format(4400)}:format: or ${writeMoney(1250, currency)}:writeMoney:`,
          )
        : read(minus === '' || amount === 0 ? amount : -amount);
    }
    case 'date': {
      const date = readDate(typed);
      return date === null
        ? wrong(
            $localize`“${text}:text:” is not a date such as 2026-11-24 or ${isMonthFirst() ? '11/24/2026' : '24/11/2026'}:part:`,
          )
        : read(date);
    }
    case 'choice': {
      const choice = field.choices.find((each) => nameKey(each) === nameKey(typed));
      return choice === undefined
        ? wrong($localize`“${text}:text:” is none of ${field.choices.join(', ')}:join:`)
        : read(choice);
    }
    case 'yes-no': {
      if (/^(yes|y|true|1|x|on)$/i.test(typed)) return read(true);
      return /^(no|n|false|0|off)$/i.test(typed)
        ? read(false)
        : wrong($localize`“${text}:text:” is neither yes nor no`);
    }
    case 'link':
      return isLink(typed)
        ? read(typed)
        : wrong($localize`“${text}:text:” is not a web address such as https://firm.example`);
    case 'person':
      return /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/i.test(typed)
        ? read(typed.toLowerCase())
        : wrong($localize`choose a contact`);
  }
}

/** Whether a stored or sent value fits a field; says why when it does not. */
export function judgeCustomValue(value: CustomValue, field: Field): string | null {
  if (value === null) return null;
  if (typeof value !== typeOf[field.type]) return $localize`is of another type than the field`;
  if (typeof value === 'boolean') return null;
  if (typeof value === 'number')
    return field.type === 'money' && !Number.isInteger(value)
      ? $localize`must be a whole number of the currency’s smallest unit`
      : null;
  // Money is a number by now: no currency is asked for.
  const judged = readCustomValue(value, field, 'XXX');
  return judged.kind === 'wrong' ? judged.reason : null;
}

const typeOf: Record<CustomFieldType, 'string' | 'number' | 'boolean'> = {
  text: 'string',
  number: 'number',
  money: 'number',
  date: 'string',
  choice: 'string',
  'yes-no': 'boolean',
  link: 'string',
  person: 'string',
};

/** A value for reading and for files; what is written so is read as the same value again (a person as its id). */
export function sayCustomValue(
  value: CustomValue | undefined,
  type: CustomFieldType,
  currency: string,
): string {
  if (value === null || value === undefined) return '';
  if (type === 'money' && typeof value === 'number') return sayMoneyInFull(value, currency);
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  return typeof value === 'number' ? writeNumber(value) : value;
}

function readDate(text: string): string | null {
  const iso = /^(\d{4})-(\d{2})-(\d{2})$/.exec(text);
  const local = /^(\d{1,2})[/.](\d{1,2})[/.](\d{4})$/.exec(text);
  const [year, month, day] = iso
    ? [iso[1], iso[2], iso[3]]
    : local
      ? [local[3], ...(isMonthFirst() ? [local[1], local[2]] : [local[2], local[1]])]
      : [];
  if (!year || !month || !day) return null;
  const date = `${year}-${month.padStart(2, '0')}-${day.padStart(2, '0')}`;
  const real = new Date(`${date}T00:00:00Z`);
  return !Number.isNaN(real.getTime()) && real.toISOString().slice(0, 10) === date ? date : null;
}

/** Only addresses a browser may be sent to: never a script. */
function isLink(text: string): boolean {
  try {
    return ['http:', 'https:'].includes(new URL(text).protocol);
  } catch {
    return false;
  }
}

type NamedField = Pick<CustomField, 'id' | 'name' | 'type' | 'choices'>;

/**
 * The values that the fields of another kind of record take over: those of the same name and type, where the value fits.
 * @returns by the id of the field that takes it
 * @example
 * const lead = [{ id: 'a', name: 'Boilers', type: 'number', choices: [] }];
 * const deal = [{ id: 'b', name: 'boilers', type: 'number', choices: [] }];
 * carriedOver(lead, { a: 3 }, deal); // { b: 3 }
 */
export function carriedOver(
  fields: readonly NamedField[],
  values: Readonly<Record<string, CustomValue>>,
  into: readonly NamedField[],
): Record<string, CustomValue> {
  const taken: Record<string, CustomValue> = {};
  for (const target of into) {
    const from = fields.find(
      ({ name, type }) => type === target.type && nameKey(name) === nameKey(target.name),
    );
    const value = from && values[from.id];
    if (value !== null && value !== undefined && judgeCustomValue(value, target) === null)
      taken[target.id] = value;
  }
  return taken;
}

/**
 * What is another now, in words: `Priority: usual → high`. Both sides name the same fields.
 * @example differencesOf([['Name', 'Boiler']], [['Name', 'Boilers']]) is ['Name: Boiler → Boilers']
 */
export function differencesOf(
  before: readonly (readonly [string, string])[],
  after: readonly (readonly [string, string])[],
): string[] {
  const is = new Map(after);
  return before
    .filter(([label, was]) => is.get(label) !== was)
    .map(([label, was]) => `${label}: ${was || 'none'} → ${is.get(label) || 'none'}`);
}
