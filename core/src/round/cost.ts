import type { Candidate, Decay, Horizon } from './candidate';

export interface Waiting {
  readonly chanceToday: number;
  /** Index of the best later day, or null when no later day is worth its minutes. */
  readonly laterDay: number | null;
  readonly chanceLater: number;
  /** What leaving the item costs for each of its minutes, in minor units: the order's measure. */
  readonly costPerMinute: number;
  /** What leaving the item costs, in minor units, not rounded. */
  readonly cost: number;
}

/** Chance that acting `workingDays` working days (`calendarDays` calendar days) from today still brings the stake. */
export function chanceAfter(decay: Decay, workingDays: number, calendarDays: number): number {
  if (decay.kind === 'deadline') {
    const left = decay.daysLeft - calendarDays;
    return left < 0 ? 0 : 1 - (1 - decay.lastDay) * 2 ** (-left / decay.halfDays);
  }
  const behind = decay.behindDays + (decay.per === 'working' ? workingDays : calendarDays);
  if (behind <= 0) return decay.p0;
  const floor = decay.floor ?? 0;
  return decay.p0 * (floor + (1 - floor) * 2 ** (-behind / decay.halfLifeDays));
}

/** What leaving an item costs for each of its minutes, and the later day that makes it so; null when none is worth its minutes. */
export interface Least {
  measure: number;
  laterDay: number | null;
}

/**
 * Cost of waiting: what the item brings today, less the best it would still bring on a later day after paying for the
 * minutes it takes then: v(0) - max(0, max over t of (v(t) - m_t x minutes)), with m_t the price of a minute of day t. Days without
 * room, or on which the person cannot be reached, do not count.
 */
export function costOfWaiting(
  candidate: Candidate,
  horizon: Horizon,
  lowest = lowestPrice(horizon),
): Waiting {
  const { decay, minutes } = candidate;
  const { measure: costPerMinute, laterDay } = findLeast(candidate, horizon, lowest, {
    measure: 0,
    laterDay: null,
  });
  return {
    chanceToday: chanceAfter(decay, 0, 0),
    laterDay,
    chanceLater: laterDay === null ? 0 : chanceAfter(decay, laterDay, horizon.days[laterDay]!.ahead),
    costPerMinute,
    cost: costPerMinute * minutes,
  };
}

/** The same for each minute, written into what is given: a Round has thousands, and an object for each would cost more than the sums. */
export function findLeast<Found extends Least>(
  { decay, stakeMinor, minutes, reachable }: Candidate,
  { days, prices }: Horizon,
  lowest: number,
  found: Found,
): Found {
  const chanceToday = chanceAfter(decay, 0, 0);
  // Per minute, as the least over "never" and every later day. Each term can only grow with the stake, also in floating
  // point, so that a higher stake never lowers a row.
  let least = (stakeMinor * chanceToday) / minutes;
  let laterDay: number | null = null;
  for (let t = 1; t < days.length; t += 1) {
    const day = days[t]!;
    const lostPerMinute = (stakeMinor * (chanceToday - chanceAfter(decay, t, day.ahead))) / minutes;
    // Chances only fall, so no day from here on can cost less than this.
    if (lostPerMinute + lowest >= least) break;
    if (day.freeMinutes < minutes || reachable?.[t] === false) continue;
    const term = lostPerMinute + prices[t]!;
    if (term >= least) continue;
    least = term;
    laterDay = t;
  }
  found.measure = least;
  found.laterDay = laterDay;
  return found;
}

/** The least that a minute of a later day with room is worth. */
export function lowestPrice({ days, prices }: Horizon): number {
  return prices.reduce(
    (least, price, t) => (t > 0 && days[t] && days[t].freeMinutes > 0 ? Math.min(least, price) : least),
    Infinity,
  );
}
