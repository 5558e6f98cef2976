import * as fc from 'fast-check';
import { chanceOfAtLeast, distributionOf, expectedOf, percentileOf, type Chance } from './index';

/** Binomial coefficients by Pascal's rule. */
function choose(n: number, k: number): number {
  let row = [1];
  for (let at = 0; at < n; at++) row = [1, ...row.slice(1).map((each, index) => each + row[index]!), 1];
  return row[k]!;
}

// Published: the sum of n equal independent trials is binomial (any textbook of probability; the formula is from memory).
test.each([
  [5, 0.5],
  [12, 0.2],
  [30, 0.85],
])('%i equal deals of chance %f are binomial', (n, chance) => {
  const { step, chances } = distributionOf(Array.from({ length: n }, () => ({ minor: 700, chance })));
  expect(step).toBe(700);
  for (let k = 0; k <= n; k++)
    expect(chances[k]).toBeCloseTo(choose(n, k) * chance ** k * (1 - chance) ** (n - k), 12);
});

/** Every way the deals can come out, one by one. */
function enumerated(deals: readonly Chance[]): Map<number, number> {
  let all = new Map([[0, 1]]);
  for (const { minor, chance } of deals) {
    const next = new Map<number, number>();
    const add = (value: number, share: number) => next.set(value, (next.get(value) ?? 0) + share);
    for (const [value, share] of all) {
      add(value, share * (1 - chance));
      add(value + minor, share * chance);
    }
    all = next;
  }
  return all;
}

const someDeals = fc.array(
  fc.record({
    minor: fc.integer({ min: 0, max: 400 }),
    chance: fc.integer({ min: 0, max: 100 }).map((n) => n / 100),
  }),
  { maxLength: 9 },
);

test('up to nine deals of any amounts are as by enumeration', () => {
  fc.assert(
    fc.property(someDeals, fc.integer({ min: 0, max: 3000 }), (deals, target) => {
      const found = distributionOf(deals);
      expect(found.isExact).toBe(true);
      const all = enumerated(deals);
      for (const [value, share] of all) {
        // What only a deal without a chance could bring may lie between two steps.
        const at = value / found.step;
        expect(Number.isInteger(at) ? (found.chances[at] ?? 0) : 0).toBeCloseTo(share, 10);
      }
      const atLeast = [...all].reduce((sum, [value, share]) => (value >= target ? sum + share : sum), 0);
      expect(chanceOfAtLeast(found, target)).toBeCloseTo(atLeast, 10);
    }),
  );
});

test('the chances add up to one, percentiles rise, and the expected value is kept where amounts have no common measure', () => {
  const large = fc.array(
    fc.record({
      minor: fc.integer({ min: 1, max: 100_000_000_00 }),
      chance: fc.integer({ min: 0, max: 100 }).map((n) => n / 100),
    }),
    { minLength: 1, maxLength: 60 },
  );
  fc.assert(
    fc.property(large, (deals) => {
      const found = distributionOf(deals);
      const sum = found.chances.reduce((all, each) => all + each, 0);
      const mean = found.chances.reduce((all, each, at) => all + each * at * found.step, 0);
      const whole = deals.reduce((all, { minor }) => all + minor, 0);
      expect(sum).toBeCloseTo(1, 9);
      const expected = deals.reduce((all, { minor, chance }) => all + minor * chance, 0);
      expect(Math.abs(mean - expected) / whole).toBeLessThan(1e-9);
      expect(Math.abs(expectedOf(deals) - expected)).toBeLessThanOrEqual(0.5);
      const [low, middle, high] = [0.1, 0.5, 0.9].map((share) => percentileOf(found, share));
      expect(low! <= middle! && middle! <= high! && high! <= whole + found.step * deals.length).toBe(true);
    }),
    { numRuns: 60 },
  );
});

test('nothing open is nothing for certain', () => {
  const nothing = distributionOf([{ minor: 500, chance: 0 }]);
  expect([percentileOf(nothing, 0.9), chanceOfAtLeast(nothing, 0), chanceOfAtLeast(nothing, 1)]).toEqual([
    ...[0, 1, 0],
  ]);
});
