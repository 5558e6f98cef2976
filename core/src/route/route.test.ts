import fc from 'fast-check';
import { bestOrder, costOfCourse, courseOf, detourOf, drivingMinutes, type Stop, type Trip } from '.';

const stop = (key: string, part: Partial<Stop> = {}): Stop => ({
  key,
  minutes: 30,
  promisedAt: null,
  opens: null,
  ...part,
});
/** Places along one road, so many minutes apart: the start, the stops, the end. */
const alongRoad = (places: readonly number[], stops: readonly Stop[], leavesAt = 540): Trip => ({
  stops,
  travel: places.map((from) => places.map((to) => Math.abs(from - to))),
  leavesAt,
});
const keys = (trip: Trip) => bestOrder(trip).map((at) => trip.stops[at]!.key);

describe('the order of a day on the road', () => {
  test('there and back again along one road', () => {
    const trip = alongRoad([0, 30, 10, 20, 0], [stop('far'), stop('near'), stop('between')]);
    expect(courseOf(trip, bestOrder(trip))).toMatchObject({ driving: 60, ends: 690 });
  });

  test('a promised time is kept, though that is the longer way', () => {
    const trip = alongRoad([0, 30, 10, 0], [stop('far', { promisedAt: 570 }), stop('near')]);
    expect(keys(trip)).toEqual(['far', 'near']);
    expect(courseOf(trip, [0, 1]).visits[0]).toMatchObject({ arrives: 570, begins: 570, late: 0 });
  });

  test('where two promises cannot be kept it says by how much one is late', () => {
    const trip = alongRoad([0, 30, 10, 0], [stop('a', { promisedAt: 600 }), stop('b', { promisedAt: 600 })]);
    const { visits } = courseOf(trip, bestOrder(trip));
    expect(visits.map(({ late }) => late).sort((a, b) => a - b)).toEqual([0, 50]);
  });

  test('waits until they open, and says when nobody is there', () => {
    const trip = alongRoad([0, 10, 0], [stop('a', { opens: [{ from: 600, to: 720 }] })]);
    expect(courseOf(trip, [0])).toMatchObject({
      waiting: 50,
      visits: [{ arrives: 550, begins: 600, closed: 0 }],
    });
    const late = alongRoad([0, 10, 0], [stop('a', { opens: [{ from: 600, to: 720 }] })], 700);
    expect(courseOf(late, [0]).visits[0]).toMatchObject({ begins: 710, closed: 20 });
    const never = alongRoad([0, 10, 0], [stop('a', { opens: [] })]);
    expect(courseOf(never, [0]).visits[0]).toMatchObject({ closed: 30 });
  });

  test('goes where a lunch break leaves room before or after it', () => {
    const opens = [
      { from: 540, to: 600 },
      { from: 660, to: 720 },
    ];
    const trip = alongRoad([0, 45, 0], [stop('a', { opens })]);
    expect(courseOf(trip, [0]).visits[0]).toMatchObject({ arrives: 585, begins: 660, closed: 0 });
  });

  test('one leaves earlier for a first promise, and a visit does not lie over something else', () => {
    const early = alongRoad([0, 60, 0], [stop('a', { promisedAt: 570 })]);
    expect(courseOf(early, [0])).toMatchObject({ leaves: 510, visits: [{ begins: 570, late: 0 }] });
    const busy = { ...alongRoad([0, 10, 0], [stop('a')]), busy: [{ from: 560, to: 600 }] };
    expect(courseOf(busy, [0]).visits[0]).toMatchObject({ arrives: 550, begins: 600 });
  });

  test('nothing to visit is a day at home', () => {
    expect(bestOrder(alongRoad([0, 0], []))).toEqual([]);
    expect(courseOf(alongRoad([0, 0], []), [])).toMatchObject({ driving: 0, ends: 540, visits: [] });
  });
});

const places = (most: number) =>
  fc.array(
    fc.record({
      x: fc.integer({ min: 0, max: 60 }),
      y: fc.integer({ min: 0, max: 60 }),
      promised: fc.option(fc.integer({ min: 540, max: 1000 })),
      minutes: fc.integer({ min: 5, max: 60 }),
    }),
    { minLength: 1, maxLength: most },
  );
const tripOf = (
  made: readonly { x: number; y: number; promised: number | null; minutes: number }[],
): Trip => {
  const points = [{ x: 30, y: 30 }, ...made, { x: 30, y: 30 }];
  return {
    stops: made.map(({ promised, minutes }, at) => stop(String(at), { promisedAt: promised, minutes })),
    travel: points.map((from) => points.map((to) => Math.round(Math.hypot(from.x - to.x, from.y - to.y)))),
    leavesAt: 540,
  };
};
const permutations = (list: readonly number[]): number[][] =>
  list.length === 0
    ? [[]]
    : list.flatMap((each) =>
        permutations(list.filter((other) => other !== each)).map((rest) => [each, ...rest]),
      );

describe('what always holds of it', () => {
  test('no two visits overlap, promises are kept or said to be late, and every stop is visited once', () => {
    fc.assert(
      fc.property(places(14), (made) => {
        const trip = tripOf(made);
        const order = bestOrder(trip);
        expect([...order].sort((a, b) => a - b)).toEqual(made.map((_, at) => at));
        const course = courseOf(trip, order);
        expect(course.leaves).toBeLessThanOrEqual(trip.leavesAt);
        let before = course.leaves;
        for (const visit of course.visits) {
          const { promisedAt, minutes } = trip.stops[Number(visit.key)]!;
          expect(visit.begins).toBeGreaterThanOrEqual(before + visit.travel);
          expect(visit.leaves).toBe(visit.begins + minutes);
          if (promisedAt !== null) expect(visit.begins).toBe(promisedAt + visit.late);
          expect(visit.late).toBeGreaterThanOrEqual(0);
          before = visit.leaves;
        }
      }),
      { numRuns: 40 },
    );
  });

  test('up to nine stops no order is cheaper: checked against all of six', () => {
    fc.assert(
      fc.property(places(6), (made) => {
        const trip = tripOf(made);
        const cost = (order: readonly number[]) => costOfCourse(courseOf(trip, order));
        const least = Math.min(...permutations(made.map((_, at) => at)).map(cost));
        expect(cost(bestOrder(trip))).toBeCloseTo(least, 9);
      }),
      { numRuns: 40 },
    );
  });

  test('what it costs does not depend on the order in which the stops come', () => {
    fc.assert(
      fc.property(places(7), (made) => {
        const cost = (of: typeof made) => {
          const trip = tripOf(of);
          return costOfCourse(courseOf(trip, bestOrder(trip)));
        };
        expect(cost([...made].reverse())).toBeCloseTo(cost(made), 9);
      }),
      { numRuns: 30 },
    );
  });
});

describe('one more place on the way', () => {
  test('goes where it takes the least further driving', () => {
    const trip = alongRoad([0, 10, 30, 0], [stop('a'), stop('b')]);
    const at = (place: number) => [0, 10, 30, 0].map((other) => Math.abs(other - place));
    expect(detourOf(trip, [0, 1], { to: at(20), from: at(20) })).toEqual({ minutes: 0, after: 1 });
    expect(detourOf(trip, [0, 1], { to: at(35), from: at(35) })).toMatchObject({ minutes: 10 });
  });
});

test('a way takes its kilometres by road and the parking, and none within one place', () => {
  const here = { latitude: 54, longitude: -5 };
  expect(drivingMinutes(here, here)).toBe(0);
  // 11.12 km as the crow flies, 14.5 by road: 17.3 minutes, and 3 to park.
  expect(drivingMinutes(here, { latitude: 54.1, longitude: -5 })).toBe(20);
});
