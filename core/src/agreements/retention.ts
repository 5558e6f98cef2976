import type { PlainDate } from '@kettle/contract';
import { addMonths } from '../time';
import type { ValueStep } from './chain';

/** What became of a customer's yearly value within a month. */
export type ValueMove = 'new' | 'back' | 'expansion' | 'contraction' | 'churn';

export interface CustomerMonth {
  readonly customerId: string;
  readonly kind: ValueMove;
  /** Yearly value at the beginning and at the end of the month, in minor units. */
  readonly before: number;
  readonly after: number;
}

export interface RetentionMonth {
  /** Its first day. */
  readonly month: PlainDate;
  readonly start: number;
  readonly new: number;
  /** Of those who had left before. */
  readonly back: number;
  readonly expansion: number;
  readonly contraction: number;
  readonly churn: number;
  readonly end: number;
  /** (start - churn - contraction) / start; null where there was nothing at the start. */
  readonly gross: number | null;
  /** The same with expansion added. */
  readonly net: number | null;
  readonly customers: readonly CustomerMonth[];
}

export interface Customer {
  readonly id: string;
  /** The yearly value of all their agreements together over time. */
  readonly steps: readonly ValueStep[];
}

/**
 * All steps of a customer's agreements as one: on each day that any of them changes, what they bring together.
 * @param agreements the steps of each, in the order of their days
 */
export function together(agreements: readonly (readonly ValueStep[])[]): ValueStep[] {
  const changes = new Map<PlainDate, number>();
  for (const steps of agreements)
    for (const [at, { from, yearlyMinor }] of steps.entries())
      changes.set(from, (changes.get(from) ?? 0) + yearlyMinor - (steps[at - 1]?.yearlyMinor ?? 0));
  let yearlyMinor = 0;
  return [...changes]
    .sort(([one], [other]) => (one < other ? -1 : 1))
    .map(([from, by]) => ({ from, yearlyMinor: (yearlyMinor += by) }));
}

/** The value that holds at the beginning of a day. */
function valueBefore(steps: readonly ValueStep[], day: PlainDate): number {
  return steps.findLast(({ from }) => from < day)?.yearlyMinor ?? 0;
}

/**
 * Retention by month, of customers and not of single agreements: whoever ends one and begins another in the same month did not leave.
 * start + new + back + expansion - contraction - churn = end, to the minor unit, and the end of a month is the start of the next.
 * @param from first day of the first month
 * @param months how many
 */
export function retention(customers: readonly Customer[], from: PlainDate, months: number): RetentionMonth[] {
  return Array.from({ length: months }, (_, at) => {
    const month = addMonths(from, at);
    const next = addMonths(from, at + 1);
    const sums = { start: 0, new: 0, back: 0, expansion: 0, contraction: 0, churn: 0 };
    const moved: CustomerMonth[] = [];
    for (const { id: customerId, steps } of customers) {
      const before = valueBefore(steps, month);
      const after = valueBefore(steps, next);
      sums.start += before;
      if (before === after) continue;
      const hadBefore = () => steps.some((step) => step.from < month && step.yearlyMinor > 0);
      const kind: ValueMove =
        before === 0
          ? hadBefore()
            ? 'back'
            : 'new'
          : after === 0
            ? 'churn'
            : after > before
              ? 'expansion'
              : 'contraction';
      sums[kind] += Math.abs(after - before);
      moved.push({ customerId, kind, before, after });
    }
    const { start, churn, contraction, expansion } = sums;
    return {
      ...{ month, ...sums, customers: moved },
      end: start + sums.new + sums.back + expansion - contraction - churn,
      gross: start === 0 ? null : (start - churn - contraction) / start,
      net: start === 0 ? null : (start - churn - contraction + expansion) / start,
    };
  });
}

export interface Cohort {
  /** The month in which its customers began. */
  readonly month: PlainDate;
  readonly customers: number;
  /** Their yearly value at the end of that month, and of each month after. */
  readonly values: readonly number[];
}

/**
 * Customers by the month in which they began, and what they bring at the end of each month since.
 * @param from first day of the first month; customers who began before are in none
 */
export function cohorts(customers: readonly Customer[], from: PlainDate, months: number): Cohort[] {
  const began = new Map<PlainDate, Customer[]>();
  for (const customer of customers) {
    const first = customer.steps.find(({ yearlyMinor }) => yearlyMinor > 0)?.from;
    if (first === undefined) continue;
    const month = `${first.slice(0, 7)}-01`;
    began.set(month, [...(began.get(month) ?? []), customer]);
  }
  return Array.from({ length: months }, (_, at) => {
    const month = addMonths(from, at);
    const own = began.get(month) ?? [];
    const values = Array.from({ length: months - at }, (__, after) =>
      own.reduce((sum, { steps }) => sum + valueBefore(steps, addMonths(from, at + after + 1)), 0),
    );
    return { month, customers: own.length, values };
  }).filter((cohort) => cohort.customers > 0);
}
