import type { CustomField, CustomFieldType, CustomValue, GridFieldOf, GridValue } from '@kettle/contract';
import { sayCustomValue } from '@kettle/core/fields';
import { writeCsv } from '@kettle/core/imports';
import { majorOf, placesOf } from '@kettle/core/money';
import { isAtLeast } from '@kettle/core/rights';
import type { Response } from 'express';
import type { IdBytes } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import { writingAt } from '../../platform/work/work';
import { noteSecurity } from '../security/index';
import type { SignedIn } from '../users/index';
import { readNames } from './list-grid';

const rowsAtOnce = 1000;

interface Custom {
  readonly custom: Readonly<Record<string, string | number | boolean | null>>;
}

export interface Exported<Row> {
  /** What is exported, as the log of security and the file call it: `deals`. */
  readonly what: string;
  readonly fields: Readonly<Record<string, GridFieldOf<Row>>>;
  readonly custom?: readonly CustomField[];
  /** Keys of the columns, in their order. */
  readonly columns: readonly string[];
  readonly ids: readonly IdBytes[];
  rows(ids: readonly IdBytes[]): Promise<readonly Row[]>;
}

/**
 * Sends a list as a CSV file (RFC 4180), its columns in their order: days and moments in ISO 8601, money in units with its currency's places and its
 * currency in a column beside it.
 * @throws Problem `not-allowed` when the organisation's rule lets others export
 */
export async function exportList<Row>(
  services: Services,
  { who, response }: { readonly who: SignedIn; readonly response: Response },
  { what, fields, custom = [], columns: keys, ids, rows: readRows }: Exported<Row>,
): Promise<'answered'> {
  const { database } = services;
  const { organisation, rights } = await services.settings.read(database);
  if (!isAtLeast(who.role, rights.exports)) throw new Problem('not-allowed');
  const names = new Map<string, string>();
  for (const type of new Set(keys.map((key) => fields[key]?.type)))
    if (type !== 'user') for (const [id, name] of await readNames(database, type)) names.set(id, name);
  const columns = keys.flatMap((key): { heads: string[]; say: (row: Row) => string[] }[] => {
    const own = custom.find(({ id }) => key === `custom:${id}`);
    if (own !== undefined)
      return [
        {
          heads: [own.name],
          say: (row) => [sayCustom((row as Custom).custom[own.id], own.type, organisation.currency)],
        },
      ];
    const field = fields[key];
    if (field === undefined) return [];
    const parts = field.parts ?? [];
    if (field.type !== 'money')
      return [
        {
          heads: [field.name, ...parts.map(({ name }) => name)],
          say: (row) => [sayPlainly(field.of(row), names), ...parts.map((part) => part.of(row))],
        },
      ];
    const currencyOf = (row: Row) => field.currencyOf?.(row) ?? organisation.currency;
    return [
      {
        heads: [field.name, $localize`${field.name}:name:, currency`],
        say: (row) => [sayAmount(field.of(row), currencyOf(row)), currencyOf(row)],
      },
    ];
  });
  await noteSecurity(writingAt(database, services.clock.now()), {
    kind: 'exported',
    userId: who.id,
    data: { what, count: ids.length },
  });
  response
    .set('Content-Disposition', `attachment; filename="${what}.csv"`)
    .set('Cache-Control', 'no-store')
    .type('text/csv; charset=utf-8');
  const head = columns.flatMap(({ heads }) => heads);
  for (let from = 0; from === 0 || from < ids.length; from += rowsAtOnce) {
    const rows = await readRows(ids.slice(from, from + rowsAtOnce));
    const text = writeCsv(
      head,
      rows.map((row) => columns.flatMap(({ say }) => say(row))),
    );
    response.write(from === 0 ? text : text.slice(text.indexOf('\r\n') + 2));
  }
  response.end();
  return 'answered';
}

/** A value of a custom field; numbers and money as a machine writes them. */
const sayCustom = (value: CustomValue | undefined, type: CustomFieldType, currency: string): string => {
  if (typeof value !== 'number') return sayCustomValue(value, type, currency);
  return type === 'money' ? sayAmount(value, currency) : String(value);
};

/** A machine's number, whatever the reader's habits. @example sayAmount(440050, 'GBP') is '4400.50' */
const sayAmount = (value: GridValue, currency: string): string =>
  typeof value === 'number' ? majorOf(value, currency).toFixed(placesOf(currency)) : '';

function sayPlainly(value: GridValue, names: ReadonlyMap<string, string>): string {
  if (value === null) return '';
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (typeof value === 'number') return String(value);
  if (typeof value === 'string') return names.get(value) ?? value;
  return value.join(', ');
}
