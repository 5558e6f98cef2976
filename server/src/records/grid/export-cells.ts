import type {
  CustomField,
  CustomFieldType,
  CustomValue,
  GridFieldOf,
  GridFieldType,
  GridValue,
} from '@kettle/contract';
import { sayCustomValue } from '@kettle/core/fields';
import { majorOf, placesOf } from '@kettle/core/money';
import { localDate, localMinute } from '@kettle/core/time';
import type { SheetCell } from '../documents/index';

/** A cell as a file of text has it, and typed for a workbook. */
export interface ExportCell {
  readonly text: string;
  readonly typed: SheetCell;
}

export interface ExportColumn<Row> {
  readonly heads: readonly string[];
  cells(row: Row): readonly ExportCell[];
}

interface Custom {
  readonly custom: Readonly<Record<string, CustomValue>>;
}

export interface ExportSetting {
  /** What ids of choices are called. */
  readonly names: ReadonlyMap<string, string>;
  readonly currency: string;
  /** Whose wall clock a workbook says moments by: a cell of it has no zone. */
  readonly zone: string;
}

/**
 * The columns of a list's field or of a custom one: money has its currency in a column beside it, a person their parts.
 * None for a key that the list does not have.
 */
export function exportColumn<Row>(
  {
    fields,
    custom,
  }: { readonly fields: Readonly<Record<string, GridFieldOf<Row>>>; readonly custom: readonly CustomField[] },
  key: string,
  setting: ExportSetting,
): ExportColumn<Row>[] {
  const own = custom.find(({ id }) => key === `custom:${id}`);
  if (own !== undefined)
    return [
      { heads: [own.name], cells: (row) => [customCell((row as Custom).custom[own.id], own.type, setting)] },
    ];
  const field = fields[key];
  if (field === undefined) return [];
  if (field.type === 'money') {
    const currencyOf = (row: Row) => field.currencyOf?.(row) ?? setting.currency;
    return [
      {
        heads: [field.name, $localize`${field.name}:name:, currency`],
        cells: (row) => [moneyCell(field.of(row), currencyOf(row)), textCell(currencyOf(row))],
      },
    ];
  }
  const parts = field.parts ?? [];
  return [
    {
      heads: [field.name, ...parts.map(({ name }) => name)],
      cells: (row) => [
        cellOf(field.of(row), field.type, setting),
        ...parts.map((part) => textCell(part.of(row))),
      ],
    },
  ];
}

const textCell = (text: string): ExportCell => ({
  text,
  typed: text === '' ? null : { kind: 'text', value: text },
});

/** A machine's number, whatever the reader's habits. @example moneyCell(440050, 'GBP').text is '4400.50' */
function moneyCell(value: GridValue | undefined, currency: string): ExportCell {
  if (typeof value !== 'number') return textCell('');
  const places = placesOf(currency);
  const text = majorOf(value, currency).toFixed(places);
  const format = places === 0 ? '#,##0' : `#,##0.${'0'.repeat(places)}`;
  return { text, typed: { kind: 'number', value: Number(text), format } };
}

const numberCell = (value: number): ExportCell => ({ text: String(value), typed: { kind: 'number', value } });
const dayCell = (day: string): ExportCell => ({ text: day, typed: { kind: 'day', value: day } });

/** A value of a custom field; numbers and money as a machine writes them. */
function customCell(
  value: CustomValue | undefined,
  type: CustomFieldType,
  { currency }: ExportSetting,
): ExportCell {
  if (typeof value === 'number') return type === 'money' ? moneyCell(value, currency) : numberCell(value);
  if (typeof value === 'string' && type === 'date') return dayCell(value);
  return textCell(sayCustomValue(value, type, currency));
}

function cellOf(value: GridValue, type: GridFieldType, { names, zone }: ExportSetting): ExportCell {
  if (value === null) return textCell('');
  if (typeof value === 'boolean') return textCell(value ? 'yes' : 'no');
  if (typeof value === 'number') return numberCell(value);
  if (typeof value !== 'string') return textCell(value.join(', '));
  if (type === 'date') return dayCell(value);
  if (type === 'instant') return { text: value, typed: { kind: 'instant', value: wallClock(value, zone) } };
  return textCell(names.get(value) ?? value);
}

/** What a wall clock shows, written as if it were that of UTC. */
function wallClock(at: string, zone: string): string {
  const minute = localMinute(at, zone);
  const two = (value: number) => String(value).padStart(2, '0');
  return `${localDate(at, zone)}T${two(Math.floor(minute / 60))}:${two(minute % 60)}:00.000Z`;
}
