import type { Candidate, Decay, HorizonDay } from './candidate';
import { chanceAfter } from './cost';

/** What arrived on a day, in short: so it is expected to come again. */
export interface Arrival {
  readonly stakeMinor: number;
  readonly minutes: number;
  readonly decay: Decay;
}

export interface PricedDays {
  readonly candidates: readonly Candidate[];
  readonly days: readonly HorizonDay[];
  /** The prices of the day before, by horizon day; null for somebody new whom nobody lends theirs. */
  readonly before: readonly number[] | null;
  /** What arrived on each of the last working days, oldest first. */
  readonly arrivals: readonly (readonly Arrival[])[];
}

/** As what comes is not known, the minutes of days ahead count for less. */
const aheadCounts = 0.88;
const turns = 20;
/** The share of the rates from the dearest down at which the steps of the prices are measured. */
const rateShare = 0.3;

/**
 * The price of a minute of each day of the horizon: the prices at which the work fits the days, the dual of planning all of it. Given
 * prices, each item chooses its best day, today included, or none; a day that is chosen for more minutes than it has gets dearer, one
 * with room cheaper, never below 0. Items are the Round's candidates and what arrived on the last working days once more, moved ahead.
 * @returns minor units for each minute, one for each day
 * @example when everything fits, all prices are 0
 */
export function priceDays({ candidates, days, before, arrivals }: PricedDays): number[] {
  const count = days.length;
  const rooms = days.map(({ freeMinutes }, t) => freeMinutes * (t === 0 ? 1 : aheadCounts));
  const items = [...candidates.map((each) => itemOf(each, days)), ...expected(arrivals, days)];
  // What waits for long is what nobody wanted: the steps are measured by what comes, and by what waits only while nothing is known.
  const fresh = arrivals.flat();
  const rates = (fresh.length > 0 ? fresh : candidates)
    .map(({ stakeMinor, minutes, decay }) => (stakeMinor * chanceAfter(decay, 0, 0)) / minutes)
    .sort((a, b) => b - a);
  const scale = rates[Math.floor(rates.length * rateShare)] ?? 0;
  // Tomorrow's prices are today's, moved up.
  const prices = Float64Array.from({ length: count }, (_, t) => before?.[Math.min(t + 1, count - 1)] ?? 0);
  for (let turn = 0; turn < turns; turn += 1) {
    const used = new Float64Array(count);
    for (const item of items) {
      const chosen = bestDay(item, prices, rooms);
      if (chosen >= 0) used[chosen]! += item.minutes * item.weight;
    }
    const step = (scale * 0.3) / (1 + turn * 0.15);
    for (let t = 0; t < count; t += 1)
      prices[t] = Math.max(0, prices[t]! + (step * (used[t]! - rooms[t]!)) / Math.max(30, rooms[t]!));
  }
  return [...prices];
}

interface Item {
  readonly minutes: number;
  /** How many of it are expected. */
  readonly weight: number;
  /** What it is worth on each day; not at all before it comes, or where nobody is reached. */
  readonly values: Float64Array;
}

function bestDay({ minutes, values }: Item, prices: Float64Array, rooms: readonly number[]): number {
  let best = 0;
  let chosen = -1;
  for (let t = 0; t < values.length; t += 1) {
    if (rooms[t]! <= 0) continue;
    const gain = values[t]! - prices[t]! * minutes;
    if (gain <= best) continue;
    best = gain;
    chosen = t;
  }
  return chosen;
}

function itemOf({ stakeMinor, minutes, decay, reachable }: Candidate, days: readonly HorizonDay[]): Item {
  const values = Float64Array.from(days, ({ ahead }, t) =>
    reachable?.[t] === false ? 0 : stakeMinor * chanceAfter(decay, t, ahead),
  );
  return { minutes, weight: 1, values };
}

/** What arrived on the first of the days kept is expected tomorrow; fewer days than the horizon has stand for all of it. */
function expected(arrivals: readonly (readonly Arrival[])[], days: readonly HorizonDay[]): Item[] {
  const ahead = days.length - 1;
  const kept = arrivals.slice(-ahead);
  const weight = kept.length === 0 ? 0 : ahead / kept.length;
  return kept.flatMap((list, index) => {
    const from = Math.max(1, Math.min(ahead, Math.round((index + 1) * weight)));
    return list.map(({ stakeMinor, minutes, decay }) => ({
      minutes,
      weight,
      values: Float64Array.from(days, (day, t) =>
        t < from ? 0 : stakeMinor * chanceAfter(decay, t - from, day.ahead - days[from]!.ahead),
      ),
    }));
  });
}
