import {
  horizonDays,
  priceDays,
  type Arrival,
  type Candidate,
  type HorizonDay,
  type RoundFact,
} from '@kettle/core/round';
import type { PlainDate } from '@kettle/contract';
import * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { bytesOf } from '../../platform/ids';
import type { Writing } from '../../platform/work/work';

const storedPrices = z.array(z.number().min(0));
const decay = z.union([
  z.object({
    kind: z.literal('half-life'),
    p0: z.number(),
    behindDays: z.number(),
    halfLifeDays: z.number(),
    per: z.enum(['working', 'calendar']),
    floor: z.number().optional(),
  }),
  z.object({ kind: z.literal('deadline'), daysLeft: z.number(), lastDay: z.number(), halfDays: z.number() }),
]);
const storedArrivals = z.array(
  z.object({ key: z.string(), stakeMinor: z.number(), minutes: z.number(), decay }),
);
type StoredArrival = z.output<typeof storedArrivals>[number];

/** So many of a day are kept: enough to price a day by. */
const mostArrivals = 400;

const pricesOf = (text: string | null) => (text === null ? null : storedPrices.parse(JSON.parse(text)));
const arrivalsOf = (text: string | null) => (text === null ? [] : storedArrivals.parse(JSON.parse(text)));

/** The prices that hold for a person today, once they were set; null before. */
export async function readPrices(db: Queryable, ownerId: string, today: PlainDate): Promise<number[] | null> {
  const [row] = await db.rows<Row<'round_day', 'prices'>>(
    'SELECT prices FROM round_day WHERE user_id = :user AND on_date = :today',
    { user: bytesOf(ownerId), today },
  );
  return pricesOf(row?.prices ?? null);
}

/**
 * Prices of a day that has none yet: from those of the last day, of whoever is new from a colleague's, and from what arrived lately.
 * @returns minor units a minute, for each day of the horizon
 */
export async function makePrices(
  db: Queryable,
  ownerId: string,
  { candidates, days }: { readonly candidates: readonly Candidate[]; readonly days: readonly HorizonDay[] },
): Promise<number[]> {
  const today = days[0]!.on;
  const history = await db.rows<Row<'round_day', 'prices' | 'arrivals'>>(
    `SELECT prices, arrivals FROM round_day WHERE user_id = :user AND on_date < :today ORDER BY on_date DESC LIMIT ${horizonDays}`,
    { user: bytesOf(ownerId), today },
  );
  const own = history.find(({ prices }) => prices !== null);
  const [lent] = own
    ? [own]
    : await db.rows<Row<'round_day', 'prices'>>(
        'SELECT prices FROM round_day WHERE on_date < :today AND prices IS NOT NULL ORDER BY on_date DESC, user_id LIMIT 1',
        { today },
      );
  const arrivals = history
    .flatMap(({ arrivals }) => (arrivals === null ? [] : [arrivalsOf(arrivals)]))
    .reverse();
  // A price needs no more than four digits behind the point; what is used is what is kept.
  return priceDays({ candidates, days, before: pricesOf(lent?.prices ?? null), arrivals }).map(
    (price) => Math.round(price * 10_000) / 10_000,
  );
}

/** Keeps the prices of a day with what arrived on it; prices that are there stand. */
export async function keepDay(
  w: Writing,
  {
    ownerId,
    today,
    prices,
    arrived,
  }: {
    readonly ownerId: string;
    readonly today: PlainDate;
    readonly prices: readonly number[];
    readonly arrived: readonly StoredArrival[];
  },
): Promise<void> {
  const [row] = await w.rows<Row<'round_day', 'arrivals'>>(
    'SELECT arrivals FROM round_day WHERE user_id = :user AND on_date = :on FOR UPDATE',
    { user: bytesOf(ownerId), on: today },
  );
  const known = arrivalsOf(row?.arrivals ?? null);
  const keys = new Set(known.map(({ key }) => key));
  const all = [...known, ...arrived.filter(({ key }) => !keys.has(key))].slice(0, mostArrivals);
  await w.change(
    `INSERT INTO round_day (user_id, on_date, prices, arrivals) VALUES (:user, :on, :prices, :arrivals)
     ON DUPLICATE KEY UPDATE prices = COALESCE(prices, VALUES(prices)), arrivals = VALUES(arrivals)`,
    {
      user: bytesOf(ownerId),
      on: today,
      prices: JSON.stringify(prices),
      arrivals: JSON.stringify(all),
    },
  );
}

/** What came since the last working day, in short. */
export function arrivedOn(
  known: readonly { readonly fact: RoundFact; readonly candidate: Candidate }[],
  from: PlainDate,
  dateOf: (at: string) => PlainDate,
): (Arrival & { readonly key: string })[] {
  return known
    .filter(({ fact, candidate }) => cameOn(fact, candidate, dateOf) > from)
    .map(({ candidate: { key, stakeMinor, minutes, decay: falls } }) => ({
      key,
      stakeMinor,
      minutes,
      decay: falls,
    }));
}

function cameOn(fact: RoundFact, candidate: Candidate, dateOf: (at: string) => PlainDate): PlainDate {
  switch (fact.kind) {
    case 'reply':
    case 'lead':
      return dateOf(fact.since);
    case 'stirring':
      return dateOf(fact.at);
    default:
      return candidate.dueOn;
  }
}
