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

/** The values that hold at the beginnings of days, in the order of the days: one walk along the steps. */
function valuesBefore(steps: readonly ValueStep[], days: readonly PlainDate[]): number[] {
  let at = 0;
  let value = 0;
  return days.map((day) => {
    for (; at < steps.length && steps[at]!.from < day; at += 1) value = steps[at]!.yearlyMinor;
    return value;
  });
}

/**
 * Retention by month, of customers and not of single agreements: whoever ends one and begins another in the same month did not leave.
 * start + new + back + expansion - contraction - churn = end, to the minor unit, and the end of a month is the start of the next.
 * @param from first day of the first month
 * @param months how many
 */
export function retention(customers: readonly Customer[], from: PlainDate, months: number): RetentionMonth[] {
  const days = Array.from({ length: months + 1 }, (_, at) => addMonths(from, at));
  const sums = days
    .slice(1)
    .map(() => ({ start: 0, new: 0, back: 0, expansion: 0, contraction: 0, churn: 0 }));
  const moved = days.slice(1).map((): CustomerMonth[] => []);
  for (const { id: customerId, steps } of customers) {
    const values = valuesBefore(steps, days);
    for (const [at, sum] of sums.entries()) {
      const [before, after] = [values[at]!, values[at + 1]!];
      sum.start += before;
      if (before === after) continue;
      const hadBefore = () => steps.some((step) => step.from < days[at]! && step.yearlyMinor > 0);
      const kind = moveOf(before, after, hadBefore);
      sum[kind] += Math.abs(after - before);
      moved[at]!.push({ customerId, kind, before, after });
    }
  }
  return sums.map((sum, at) => {
    const { start, churn, contraction, expansion } = sum;
    return {
      ...{ month: days[at]!, ...sum, customers: moved[at]! },
      end: start + sum.new + sum.back + expansion - contraction - churn,
      gross: start === 0 ? null : (start - churn - contraction) / start,
      net: start === 0 ? null : (start - churn - contraction + expansion) / start,
    };
  });
}

function moveOf(before: number, after: number, hadBefore: () => boolean): ValueMove {
  if (before === 0) return hadBefore() ? 'back' : 'new';
  if (after === 0) return 'churn';
  return after > before ? 'expansion' : 'contraction';
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
  const days = Array.from({ length: months + 1 }, (_, at) => addMonths(from, at));
  const own = days.slice(1).map((_, at) => ({ customers: 0, values: days.slice(at + 1).map(() => 0) }));
  for (const { steps } of customers) {
    const first = steps.find(({ yearlyMinor }) => yearlyMinor > 0)?.from;
    if (first === undefined || first < from) continue;
    const at = days.findLastIndex((day) => day <= first);
    const cohort = own[at];
    if (cohort === undefined) continue;
    cohort.customers += 1;
    for (const [after, value] of valuesBefore(steps, days.slice(at + 1)).entries())
      cohort.values[after]! += value;
  }
  return own.flatMap((cohort, at) => (cohort.customers === 0 ? [] : { month: days[at]!, ...cohort }));
}
