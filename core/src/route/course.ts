/** Somewhere to be during a day. Minutes are of the day, local to whoever drives. */
export interface Stop {
  readonly key: string;
  /** How long one stays. */
  readonly minutes: number;
  /** When it was promised; null when any time will do. */
  readonly promisedAt: number | null;
  /** When somebody is there; null when that is not known, an empty list when nobody is on that day. */
  readonly opens: readonly { readonly from: number; readonly to: number }[] | null;
}

/** A day on the road, before its order is known. */
export interface Trip {
  readonly stops: readonly Stop[];
  /** Minutes from place to place: the start is 0, the stops follow in their order, the end is last. */
  readonly travel: readonly (readonly number[])[];
  /** When one leaves; earlier where the first visit was promised for a time that asks for it. */
  readonly leavesAt: number;
  /** When one is busy with something else, wherever one is then; in order. */
  readonly busy?: readonly { readonly from: number; readonly to: number }[];
}

/** One stop as the day comes to it. */
export interface Visit {
  readonly key: string;
  readonly travel: number;
  readonly arrives: number;
  /** After waiting for the promised time, or for them to open. */
  readonly begins: number;
  readonly leaves: number;
  /** Minutes after the promised time. */
  readonly late: number;
  /** Minutes of the stay for which nobody is there; all of them when they are off. */
  readonly closed: number;
}

export interface Course {
  readonly leaves: number;
  readonly visits: readonly Visit[];
  readonly driving: number;
  readonly waiting: number;
  /** When one is back. */
  readonly ends: number;
}

/**
 * How a day goes in an order: nobody is left before the stay is over, and what was promised does not begin before its time.
 * @param order places of the stops in their list, each once
 */
export function courseOf({ stops, travel, leavesAt, busy = [] }: Trip, order: readonly number[]): Course {
  const visits: Visit[] = [];
  const first = order[0];
  const promised = first === undefined ? null : stops[first]!.promisedAt;
  const leaves = promised === null ? leavesAt : Math.min(leavesAt, promised - travel[0]![first! + 1]!);
  let [at, now, driving, waiting] = [0, leaves, 0, 0];
  for (const next of order) {
    const stop = stops[next]!;
    const way = travel[at]![next + 1]!;
    const arrives = now + way;
    const begins = free(Math.max(arrives, stop.promisedAt ?? 0, openingFor(stop, arrives) ?? 0), stop, busy);
    const goes = begins + stop.minutes;
    visits.push({
      key: stop.key,
      travel: way,
      arrives,
      begins,
      leaves: goes,
      late: stop.promisedAt === null ? 0 : begins - stop.promisedAt,
      closed: closedFor(stop, begins),
    });
    driving += way;
    waiting += begins - arrives;
    [at, now] = [next + 1, goes];
  }
  const home = travel[at]![stops.length + 1]!;
  return { leaves, visits, driving: driving + home, waiting, ends: now + home };
}

/** Minutes of a stay that lie outside the hours they are there. */
function closedFor({ opens, minutes }: Stop, begins: number): number {
  if (opens === null) return 0;
  const ends = begins + minutes;
  return opens.reduce(
    (least, { from, to }) => Math.min(least, Math.max(0, from - begins) + Math.max(0, ends - to)),
    opens.length === 0 ? Math.max(1, minutes) : Infinity,
  );
}

/** From when on nothing else is in the way of the stay. */
function free(begins: number, { minutes }: Stop, busy: NonNullable<Trip['busy']>): number {
  let from = begins;
  for (const block of busy) if (block.from < from + minutes && block.to > from) from = block.to;
  return from;
}

/** When they are there next for as long as it takes; null when not known, or not any more that day. */
function openingFor({ opens, minutes }: Stop, arrives: number): number | null {
  for (const { from, to } of opens ?? [])
    if (Math.max(arrives, from) + minutes <= to) return Math.max(arrives, from);
  return null;
}

const broken = 1_000_000;
const lateMinute = 1_000;

/**
 * What a course costs, to compare two: first the promises it breaks and the doors it finds closed, then by how many minutes, then the
 * minutes of driving, then how late the day ends.
 */
export function costOfCourse({ visits, driving, ends }: Course): number {
  let cost = driving + ends / 10_000;
  for (const { late, closed } of visits) {
    if (late > 0) cost += broken + late * lateMinute;
    if (closed > 0) cost += broken + closed * lateMinute;
  }
  return cost;
}

/**
 * The least further minutes of driving that one more place takes, and after which visit: 0 is before the first.
 * @param to minutes from each place of the trip to it, as in `travel`
 * @param from minutes from it to each
 */
export function detourOf(
  { stops, travel }: Trip,
  order: readonly number[],
  { to, from }: { readonly to: readonly number[]; readonly from: readonly number[] },
): { readonly minutes: number; readonly after: number } {
  const places = [0, ...order.map((at) => at + 1), stops.length + 1];
  let best = { minutes: Infinity, after: 0 };
  for (let after = 0; after + 1 < places.length; after += 1) {
    const [before, next] = [places[after]!, places[after + 1]!];
    const minutes = to[before]! + from[next]! - travel[before]![next]!;
    if (minutes < best.minutes) best = { minutes, after };
  }
  return { ...best, minutes: Math.max(0, best.minutes) };
}
