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
    return left <= 0 ? 0 : 1 - Math.min(1, decay.medianDays / left) ** 2;
  }
  const behind = decay.behindDays + (decay.per === 'working' ? workingDays : calendarDays);
  return behind <= 0 ? decay.p0 : decay.p0 * 2 ** (-behind / decay.halfLifeDays);
}

/**
 * Cost of waiting: what the item brings today, less the best it would still bring on a later day after paying for the
 * minutes it takes then: v(0) - max(0, max over t of (v(t) - m_t x minutes)), with m_t the price of a minute scaled by
 * how full day t is. Days without room, or on which the person cannot be reached, do not count.
 */
export function costOfWaiting(candidate: Candidate, horizon: Horizon, prices = dayPrices(horizon)): Waiting {
  const { decay, stakeMinor, minutes, reachable } = candidate;
  const chanceToday = chanceAfter(decay, 0, 0);
  // Per minute, as the least over "never" and every later day. Each term can only grow with the stake, also in floating
  // point, so that a higher stake never lowers a row.
  let costPerMinute = (stakeMinor * chanceToday) / minutes;
  let laterDay: number | null = null;
  let chanceLater = 0;
  for (let t = 1; t < horizon.days.length; t += 1) {
    const day = horizon.days[t]!;
    const chance = chanceAfter(decay, t, day.ahead);
    const lostPerMinute = (stakeMinor * (chanceToday - chance)) / minutes;
    // Chances only fall, so no day from here on can cost less than this.
    if (lostPerMinute + prices.lowest >= costPerMinute) break;
    if (day.freeMinutes < minutes || reachable?.[t] === false) continue;
    const term = lostPerMinute + prices.byDay[t]!;
    if (term >= costPerMinute) continue;
    costPerMinute = term;
    laterDay = t;
    chanceLater = chance;
  }
  return { chanceToday, laterDay, chanceLater, costPerMinute, cost: costPerMinute * minutes };
}

export interface DayPrices {
  readonly byDay: readonly number[];
  readonly lowest: number;
}

/** The price of a minute on each day of the horizon: dearer on full days. */
export function dayPrices(horizon: Horizon): DayPrices {
  const byDay = horizon.days.map((day) =>
    day.freeMinutes > 0 ? (horizon.priceOfMinute * horizon.usualFreeMinutes) / day.freeMinutes : Infinity,
  );
  return { byDay, lowest: Math.min(...byDay.slice(1)) };
}

/** Weight of each day before the latest in the average. */
const daysToHalve = 5;

/**
 * The price of a minute learned from the last working days, oldest first: the best value per minute that stayed below
 * the cut line each day, averaged with exponential weights; 0 on days when everything fitted.
 */
export function learnPriceOfMinute(bestBelowPerMinute: readonly number[]): number {
  const days = bestBelowPerMinute.slice(-horizonOfLearning);
  let weight = 0;
  let sum = 0;
  days.forEach((best, index) => {
    const w = 2 ** (-(days.length - 1 - index) / daysToHalve);
    weight += w;
    sum += w * best;
  });
  return weight === 0 ? 0 : sum / weight;
}

const horizonOfLearning = 20;
