import { bestOrder, courseOf, greatCircle, type Trip } from '.';

describe('distances', () => {
  /** E. Williams, Aviation Formulary 1.47, worked example: LAX 33°57'N 118°24'W, JFK 40°38'N 73°47'W. */
  test('Los Angeles to Kennedy airport is 0.623585 radians', () => {
    const losAngeles = { latitude: 33 + 57 / 60, longitude: -(118 + 24 / 60) };
    const kennedy = { latitude: 40 + 38 / 60, longitude: -(73 + 47 / 60) };
    expect(greatCircle(losAngeles, kennedy)).toBeCloseTo(0.623585, 6);
  });

  test('a quarter of the equator, and the poles, in radians: facts of the sphere', () => {
    const zero = { latitude: 0, longitude: 0 };
    expect(greatCircle(zero, { latitude: 0, longitude: 90 })).toBeCloseTo(Math.PI / 2, 12);
    expect(greatCircle({ latitude: 90, longitude: 12 }, { latitude: -90, longitude: 40 })).toBeCloseTo(
      Math.PI,
      7,
    );
  });
});

/** Reinelt, "TSPLIB", ORSA Journal on Computing 3 (1991): coordinates and the lengths of the best tours, from memory. */
const burma14 = [
  ...[
    [16.47, 96.1],
    [16.47, 94.44],
    [20.09, 92.54],
    [22.39, 93.37],
    [25.23, 97.24],
    [22.0, 96.05],
    [20.47, 97.02],
  ],
  ...[
    [17.2, 96.29],
    [16.3, 97.38],
    [14.05, 98.12],
    [16.53, 97.38],
    [21.52, 95.59],
    [19.41, 97.13],
    [20.09, 94.55],
  ],
] as [number, number][];
const ulysses16 = [
  ...[
    [38.24, 20.42],
    [39.57, 26.15],
    [40.56, 25.32],
    [36.26, 23.12],
    [33.48, 10.54],
    [37.56, 12.19],
    [38.42, 13.11],
  ],
  ...[
    [37.52, 20.44],
    [41.23, 9.1],
    [41.17, 13.05],
    [36.08, -5.21],
    [38.47, 15.13],
    [38.15, 15.35],
    [37.51, 15.17],
  ],
  ...[
    [35.49, 14.32],
    [39.36, 19.56],
  ],
] as [number, number][];

/** That library's own rule for geographical distances: degrees and minutes, π as 3.141592, a radius of 6378.388 km, whole kilometres. */
function geographical(nodes: readonly [number, number][]): number[][] {
  const radians = (value: number) => {
    const degrees = Math.trunc(value);
    return (3.141592 * (degrees + (5 * (value - degrees)) / 3)) / 180;
  };
  return nodes.map(([x, y]) =>
    nodes.map(([otherX, otherY]) => {
      const [a, b, c, d] = [radians(x), radians(y), radians(otherX), radians(otherY)] as const;
      const [q1, q2, q3] = [Math.cos(b - d), Math.cos(a - c), Math.cos(a + c)];
      return x === otherX && y === otherY
        ? 0
        : Math.trunc(6378.388 * Math.acos(0.5 * ((1 + q1) * q2 - (1 - q1) * q3)) + 1);
    }),
  );
}

/** A round trip from the first node and back to it. */
function roundTrip(nodes: readonly [number, number][]): Trip {
  const between = geographical(nodes);
  const places = [...nodes.map((_, at) => at), 0];
  return {
    stops: nodes.slice(1).map((_, at) => ({ key: String(at), minutes: 0, promisedAt: null, opens: null })),
    travel: places.map((from) => places.map((to) => between[from]![to]!)),
    leavesAt: 0,
  };
}

test.each([
  ['burma14', burma14, 3323],
  ['ulysses16', ulysses16, 6859],
])('%s is within 2 % of the best tour', (_, nodes, best) => {
  const trip = roundTrip(nodes);
  const { driving } = courseOf(trip, bestOrder(trip));
  expect(driving).toBeGreaterThanOrEqual(best);
  expect(driving).toBeLessThanOrEqual(best * 1.02);
});
