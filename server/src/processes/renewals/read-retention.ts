import type { CustomerRetention, ValueMove, RetentionRecords, UserId } from '@kettle/contract';
import {
  cohorts,
  retention,
  together,
  type Customer,
  type RetentionMonth,
  type ValueStep,
} from '@kettle/core/agreements';
import { addMonths } from '@kettle/core/time';
import type { Queryable, SqlParameters } from '../../platform/database/database';
import { wholeNumber } from '../../platform/database/values';
import { bytesOf, idOf, idOrNull, type IdBytes } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { reachParameters, withinReach } from '../../records/rights/index';
import type { SignedIn } from '../../records/users/index';

export interface RetentionAsked {
  /** Whose agreements; null for all that may be read. */
  readonly owners: readonly UserId[] | null;
  /** First day of the first month. */
  readonly from: string;
  readonly months: number;
}

interface StepRow {
  readonly customer: IdBytes;
  readonly agreement_id: IdBytes;
  readonly from_on: string;
  readonly yearly: string;
}

interface Reading {
  readonly where: string;
  readonly parameters: SqlParameters;
}

const readingOf = (who: SignedIn, { owners }: RetentionAsked): Reading => {
  const owned = owners === null ? 'TRUE' : owners.length === 0 ? 'FALSE' : 'a.owner_id IN (:owners)';
  return {
    where: `${owned} AND ${withinReach(who, 'agreement', 'a')}`,
    parameters: { ...reachParameters(who), owners: (owners ?? []).map((id) => bytesOf(id)) },
  };
};

/**
 * Every customer's yearly value over time, in the organisation's currency. An agreement in another one counts at the rate that its value has
 * today at every time, so that what rates do is neither growth nor loss.
 */
async function readCustomers(db: Queryable, { where, parameters }: Reading): Promise<Customer[]> {
  const rows = await db.rows<StepRow>(
    `SELECT COALESCE(a.company_id, a.contact_id, a.id) AS customer, v.agreement_id, v.from_on,
            ROUND(IF(a.value_minor = 0, v.yearly_minor, v.yearly_minor * a.home_minor / a.value_minor)) AS yearly
       FROM agreement_value v JOIN agreement a ON a.id = v.agreement_id
      WHERE ${where} AND a.home_minor IS NOT NULL ORDER BY customer, v.agreement_id, v.from_on`,
    parameters,
  );
  const customers: Customer[] = [];
  let agreements: ValueStep[][] = [];
  for (const [at, row] of rows.entries()) {
    const before = rows[at - 1];
    if (before === undefined || !before.agreement_id.equals(row.agreement_id)) agreements.push([]);
    agreements.at(-1)!.push({ from: row.from_on, yearlyMinor: wholeNumber(row.yearly) });
    const after = rows[at + 1];
    if (after !== undefined && after.customer.equals(row.customer)) continue;
    customers.push({ id: idOf<string>(row.customer), steps: together(agreements) });
    agreements = [];
  }
  return customers;
}

/** Retention by month and by cohort. */
export async function customerRetention(
  services: Services,
  who: SignedIn,
  asked: RetentionAsked,
): Promise<CustomerRetention> {
  const { database: db } = services;
  const reading = readingOf(who, asked);
  const customers = await readCustomers(db, reading);
  const [row] = await db.rows<{ unvalued: string }>(
    `SELECT COUNT(*) AS unvalued FROM agreement a WHERE ${reading.where} AND a.home_minor IS NULL`,
    reading.parameters,
  );
  const months = retention(customers, asked.from, asked.months);
  return {
    months: months.map(withoutCustomers),
    whole: wholeOf(customers, asked),
    cohorts: cohorts(customers, asked.from, asked.months).map((cohort) => ({
      ...cohort,
      values: [...cohort.values],
    })),
    unvalued: wholeNumber(row?.unvalued ?? 0),
  };
}

const withoutCustomers = ({ customers: _, ...month }: RetentionMonth) => month;

/** The same bridge from the beginning of the first month to the end of the last, customer by customer. */
function wholeOf(customers: readonly Customer[], { from, months }: RetentionAsked) {
  return withoutCustomers(spanOf(customers, from, months));
}

/** One bridge over several months: each customer counts once, by what they were at its two ends. */
function spanOf(customers: readonly Customer[], from: string, months: number): RetentionMonth {
  const end = addMonths(from, months);
  // Everything within the span is as if it happened in its first month.
  const folded = customers.map(({ id, steps }) => ({
    id,
    steps: [
      ...steps.filter((step) => step.from < from),
      ...steps
        .filter((step) => step.from >= from && step.from < end)
        .slice(-1)
        .map((step) => ({ ...step, from })),
    ],
  }));
  return retention(folded, from, 1)[0]!;
}

/** The customers behind a figure, those who moved most first, with the agreements that did it. */
export async function customerRetentionRecords(
  services: Services,
  who: SignedIn,
  asked: RetentionAsked & { readonly kind: ValueMove },
): Promise<RetentionRecords> {
  const { database: db } = services;
  const reading = readingOf(who, asked);
  const span = spanOf(await readCustomers(db, reading), asked.from, asked.months);
  const moved = span.customers
    .filter(({ kind }) => kind === asked.kind)
    .sort((one, other) => Math.abs(other.after - other.before) - Math.abs(one.after - one.before));
  if (moved.length === 0) return { rows: [] };
  const rows = await db.rows<{
    customer: IdBytes;
    id: IdBytes;
    name: string;
    end_reason: string | null;
    company_id: IdBytes | null;
    contact_id: IdBytes | null;
    customer_name: string | null;
    is_moved: number;
  }>(
    `SELECT COALESCE(a.company_id, a.contact_id, a.id) AS customer, a.id, a.name, a.end_reason, a.company_id, a.contact_id,
            COALESCE(co.name, c.display_name) AS customer_name,
            EXISTS (SELECT 1 FROM agreement_value v WHERE v.agreement_id = a.id AND v.from_on >= :from AND v.from_on < :to) AS is_moved
       FROM agreement a LEFT JOIN company co ON co.id = a.company_id LEFT JOIN contact c ON c.id = a.contact_id
      WHERE ${reading.where} AND COALESCE(a.company_id, a.contact_id, a.id) IN (:customers) ORDER BY a.name, a.id`,
    {
      ...reading.parameters,
      ...{ from: asked.from, to: addMonths(asked.from, asked.months) },
      customers: moved.map(({ customerId }) => bytesOf(customerId)),
    },
  );
  return {
    rows: moved.map(({ customerId, before, after }) => {
      const own = rows.filter((row) => idOf<string>(row.customer) === customerId);
      return {
        contactId: idOrNull(own[0]?.contact_id ?? null) as never,
        companyId: idOrNull(own[0]?.company_id ?? null) as never,
        name: own[0]?.customer_name ?? own[0]?.name ?? '',
        ...{ before, after },
        agreements: own
          .filter((row) => row.is_moved === 1)
          .map((row) => ({ id: idOf(row.id) as never, name: row.name, endReason: row.end_reason })),
      };
    }),
  };
}
