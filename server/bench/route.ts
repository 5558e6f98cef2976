import { bestOrder, courseOf, type Trip } from '@kettle/core/route';
import { print } from './measure';

const stops = 12;
const aimMillis = 200;

/** A day of twelve stops about an hour across, a third of them promised for a time; the same each time for a number. */
function tripOf(seed: number): Trip {
  let state = seed;
  const random = () => (state = (state * 48_271) % 2_147_483_647) / 2_147_483_647;
  const places = Array.from({ length: stops + 2 }, () => [random() * 60, random() * 60] as const);
  places[stops + 1] = places[0]!;
  return {
    stops: Array.from({ length: stops }, (_, n) => ({
      key: String(n),
      minutes: 20,
      promisedAt: n % 3 === 0 ? 560 + Math.round(random() * 400) : null,
      opens: [{ from: 540, to: 1050 }],
    })),
    travel: places.map(([x, y]) =>
      places.map(([otherX, otherY]) => Math.round(Math.hypot(x - otherX, y - otherY))),
    ),
    leavesAt: 540,
  };
}

/** What anybody would write first: the nearest next, then parts turned round while that makes the way shorter, promises or not. */
function bare({ travel, stops: all }: Trip): number[] {
  const length = (order: readonly number[]) =>
    [0, ...order.map((at) => at + 1), all.length + 1].reduce(
      (sum, place, at, list) => (at === 0 ? 0 : sum + travel[list[at - 1]!]![place]!),
      0,
    );
  let order = all.map((_, at) => at);
  for (let isBetter = true; isBetter;) {
    isBetter = false;
    for (let from = 0; from < order.length - 1; from += 1)
      for (let to = from + 1; to < order.length; to += 1) {
        const turned = [
          ...order.slice(0, from),
          ...order.slice(from, to + 1).reverse(),
          ...order.slice(to + 1),
        ];
        if (length(turned) >= length(order)) continue;
        order = turned;
        isBetter = true;
      }
  }
  return order;
}

/** The order of a day: how long it takes, and what it is worth beside turning parts round. */
function benchRoute(): void {
  const trips = Array.from({ length: 21 }, (_, n) => tripOf(n * 7919 + 11));
  const [ours, plain]: [number[], number[]] = [[], []];
  let [kept, keptPlain, driving, drivingPlain] = [0, 0, 0, 0];
  const onTime = (trip: Trip, order: readonly number[]) =>
    courseOf(trip, order).visits.filter(({ late, closed }) => late === 0 && closed === 0).length;
  for (const trip of trips) {
    let start = performance.now();
    const best = bestOrder(trip);
    ours.push(performance.now() - start);
    start = performance.now();
    const turned = bare(trip);
    plain.push(performance.now() - start);
    kept += onTime(trip, best);
    keptPlain += onTime(trip, turned);
    driving += courseOf(trip, best).driving;
    drivingPlain += courseOf(trip, turned).driving;
  }
  const median = (times: number[]) => times.sort((a, b) => a - b)[10]!;
  const [value, baseline] = [median(ours), median(plain)];
  const all = trips.length * stops;
  print({
    name: 'the order of a day of twelve stops, against the time it may take',
    value,
    unit: 'ms',
    baseline: aimMillis,
    ratio: value / aimMillis,
    aim: 1,
    note: `slowest ${Math.max(...ours).toFixed(0)} ms; turning parts round alone ${baseline.toFixed(2)} ms; in time ${kept} of ${all} visits against ${keptPlain}, driving ${driving} against ${drivingPlain} min`,
  });
}

benchRoute();
