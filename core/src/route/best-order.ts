import { costOfCourse, courseOf, type Trip } from './course';

/** Up to so many stops every order is looked at, or ruled out by what its beginning costs already. */
export const mostExact = 9;

/**
 * The order of the stops that costs least: exact up to nine, beyond that the best of many that were improved step by step.
 * @returns places of the stops in their list
 * @see Or, "Traveling salesman-type combinatorial problems" (1976), for moving runs of up to three; Croes, "A method for solving
 * traveling-salesman problems", Operations Research 6 (1958), for turning a part round; both from memory
 */
export function bestOrder(trip: Trip): number[] {
  const count = trip.stops.length;
  if (count < 2) return trip.stops.map((_, at) => at);
  const good = searchedOrder(trip);
  return count <= mostExact ? exactOrder(trip, good) : good;
}

const costOf = (trip: Trip, order: readonly number[]) => costOfCourse(courseOf(trip, order));

/** Every order, stop by stop; one whose beginning costs as much as the best found goes no further. */
function exactOrder(trip: Trip, known: readonly number[]): number[] {
  let best = { order: [...known], cost: costOf(trip, known) };
  const order: number[] = [];
  const isIn = trip.stops.map(() => false);
  const part = { ...trip, travel: trip.travel.map((row) => [...row.slice(0, -1), 0]) };
  const goOn = () => {
    if (order.length === trip.stops.length) {
      const cost = costOf(trip, order);
      if (cost < best.cost) best = { order: [...order], cost };
      return;
    }
    for (let next = 0; next < trip.stops.length; next += 1) {
      if (isIn[next]) continue;
      order.push(next);
      isIn[next] = true;
      // The way home is left out: what is so far can only get dearer.
      if (costOf(part, order) < best.cost) goOn();
      order.pop();
      isIn[next] = false;
    }
  };
  goOn();
  return best.order;
}

/** From several beginnings, and from the best one shaken again and again; always the same for the same trip. */
function searchedOrder(trip: Trip): number[] {
  const count = trip.stops.length;
  const starts = trip.stops.map((_, first) => nearestFrom(trip, first));
  const byPromise = trip.stops
    .map((_, at) => at)
    .sort((a, b) => (trip.stops[a]!.promisedAt ?? 1440) - (trip.stops[b]!.promisedAt ?? 1440));
  let best = { order: byPromise, cost: Infinity };
  const take = (order: number[]) => {
    const improved = improve(trip, order);
    if (improved.cost < best.cost) best = improved;
  };
  take(byPromise);
  starts.forEach(take);
  const random = sequence(count);
  const shakes = Math.max(12, Math.ceil(600 / count));
  for (let turn = 0; turn < shakes; turn += 1) take(shaken(best.order, random));
  return best.order;
}

/** Always on to the nearest that is left. */
function nearestFrom({ stops, travel }: Trip, first: number): number[] {
  const order = [first];
  const left = new Set(stops.map((_, at) => at));
  left.delete(first);
  while (left.size > 0) {
    const here = travel[order.at(-1)! + 1]!;
    const next = [...left].reduce((near, at) => (here[at + 1]! < here[near + 1]! ? at : near));
    order.push(next);
    left.delete(next);
  }
  return order;
}

/** Turns parts round and moves runs of one to three elsewhere for as long as that makes it cheaper. */
function improve(trip: Trip, from: readonly number[]): { order: number[]; cost: number } {
  let best = { order: [...from], cost: costOf(trip, from) };
  for (let isBetter = true; isBetter;) {
    isBetter = false;
    for (const order of neighbours(best.order)) {
      const cost = costOf(trip, order);
      if (cost >= best.cost - 1e-9) continue;
      best = { order, cost };
      isBetter = true;
      break;
    }
  }
  return best;
}

function* neighbours(order: readonly number[]): Generator<number[]> {
  const count = order.length;
  for (let from = 0; from < count - 1; from += 1)
    for (let to = from + 1; to < count; to += 1)
      yield [...order.slice(0, from), ...order.slice(from, to + 1).reverse(), ...order.slice(to + 1)];
  for (let length = 1; length <= Math.min(3, count - 1); length += 1)
    for (let from = 0; from + length <= count; from += 1) {
      const run = order.slice(from, from + length);
      const rest = [...order.slice(0, from), ...order.slice(from + length)];
      for (let to = 0; to <= rest.length; to += 1) {
        if (to === from) continue;
        yield [...rest.slice(0, to), ...run, ...rest.slice(to)];
        if (length > 1) yield [...rest.slice(0, to), ...[...run].reverse(), ...rest.slice(to)];
      }
    }
}

/** Two parts beside each other change places: what no single step above undoes. */
function shaken(order: readonly number[], random: () => number): number[] {
  const cuts = [random(), random(), random()]
    .map((share) => Math.floor(share * (order.length + 1)))
    .sort((a, b) => a - b) as [number, number, number];
  const [one, two, three] = cuts;
  return [
    ...order.slice(0, one),
    ...order.slice(two, three),
    ...order.slice(one, two),
    ...order.slice(three),
  ];
}

/** Numbers from 0 to 1 that look random and are the same each time (Park and Miller 1988, from memory). */
function sequence(seed: number): () => number {
  let state = (seed % 2_147_483_646) + 1;
  return () => {
    state = (state * 48_271) % 2_147_483_647;
    return state / 2_147_483_647;
  };
}
