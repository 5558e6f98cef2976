import { placesOf } from '@kettle/core/money';
import type { Queryable } from '../../platform/database/database';
import { bytesOf } from '../../platform/ids';
import type { Deriver } from '../../platform/work/work';

interface Amounts {
  readonly table: 'deal' | 'agreement';
  readonly amount: string;
  /** The day whose rate holds: the one it was closed on, else today. */
  readonly day: string;
  /** What the amount depends on. */
  readonly fields: readonly string[];
  /** Rows of other tables that it comes from, by the column that names its record. */
  readonly from?: Readonly<Record<string, string>>;
  /** What is converted at the same rate: amount and what it is at home. */
  readonly beside?: readonly [amount: string, home: string];
}

const kept: readonly Amounts[] = [
  {
    table: 'deal',
    amount: 'amount_minor',
    day: 'COALESCE(closed_on, :today)',
    fields: ['amount_minor', 'currency', 'closed_on'],
  },
  {
    table: 'agreement',
    amount: 'value_minor',
    day: ':today',
    fields: ['value_minor', 'term_months', 'renews_itself', 'leaves_on', 'currency'],
    from: { agreement_term: 'agreement_id', agreement_change: 'agreement_id' },
    beside: ['yearly_minor', 'yearly_home_minor'],
  },
];

const home = `COALESCE((SELECT JSON_VALUE(s.value, '$.currency') FROM setting s WHERE s.name = 'organisation'), 'GBP')`;

const unusual = Intl.supportedValuesOf('currency')
  .filter((code) => placesOf(code) !== 2)
  .map((code) => `WHEN '${code}' THEN ${placesOf(code)}`)
  .join(' ');

/** How many places a currency's minor unit has, in SQL. */
const placesSql = (currency: string) => `(CASE ${currency} ${unusual} ELSE 2 END)`;

/** Amounts of deals and agreements in the organisation's own currency, when they, the rates or that currency changed. */
export const deriveHomeAmounts: Deriver = async (w, written) => {
  const isAll =
    written.of('exchange_rate').length > 0 ||
    written.of('setting').some(({ key }) => key === '{"name":"organisation"}');
  for (const amounts of kept) {
    const ids = isAll
      ? null
      : [
          ...written.ids(amounts.table, 'id', amounts.fields),
          ...Object.entries(amounts.from ?? {}).flatMap(([table, column]) => written.ids(table, column)),
        ];
    if (ids === null || ids.length > 0) await writeHomeAmounts(w, amounts, w.now.slice(0, 10), ids);
  }
};

/** Open deals and agreements in a foreign currency, at the rate of a new day. */
export async function writeAllHomeAmounts(db: Queryable, today: string): Promise<void> {
  for (const amounts of kept) await writeHomeAmounts(db, amounts, today, null);
}

/**
 * An amount in a foreign currency is what its rate makes of it, rounded to the minor unit; empty while there is no rate for its day.
 * @example
 * // 1 EUR is 0.86 GBP from 2026-11-02 on: a deal of EUR 1,000.00 has a home amount of 86,000 pence
 * // 1 JPY is 0.005 GBP: a deal of JPY 1,000 has one of 500 pence
 */
async function writeHomeAmounts(
  db: Queryable,
  { table, amount, day, beside }: Amounts,
  today: string,
  ids: readonly string[] | null,
): Promise<void> {
  const atHome = (of: string) => `IF(
        currency = ${home},
        ${of},
        ROUND(${of} * POW(10, ${placesSql(home)} - ${placesSql(`${table}.currency`)}) * (SELECT r.rate FROM exchange_rate r WHERE r.currency = ${table}.currency AND r.from_on <= ${day}
                            ORDER BY r.from_on DESC LIMIT 1)))`;
  const also = beside === undefined ? '' : `, ${beside[1]} = ${atHome(beside[0])}`;
  await db.change(
    `UPDATE ${table} SET home_minor = ${atHome(amount)}${also}
      WHERE ${ids === null ? ':today IS NOT NULL' : 'id IN (:ids) AND :today IS NOT NULL'}`,
    ids === null ? { today } : { today, ids: ids.map((id) => bytesOf(id)) },
  );
}
