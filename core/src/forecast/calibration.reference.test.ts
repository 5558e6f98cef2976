import * as fc from 'fast-check';
import { calibrationOf, type Foretold } from './index';

// Brier 1950: the score of a set of forecasts f and outcomes o is the mean of (f - o)², here of one of the two outcomes. The formula is from memory.
const brier = (groups: readonly Foretold[]) => {
  const each = groups.flatMap(({ chance, count, happened }) =>
    Array.from({ length: count }, (_, at) => (chance - (at < happened ? 1 : 0)) ** 2),
  );
  return each.reduce((sum, one) => sum + one, 0) / each.length;
};

const foretold = fc.array(
  fc
    .record({
      chance: fc.integer({ min: 0, max: 20 }).map((n) => n / 20),
      count: fc.integer({ min: 0, max: 40 }),
      share: fc.double({ min: 0, max: 1, noNaN: true }),
    })
    .map(({ chance, count, share }): Foretold => ({ chance, count, happened: Math.round(count * share) })),
  { minLength: 1, maxLength: 12 },
);

test('the score is that of Brier, and Murphy’s three parts of 1973 make it up', () => {
  fc.assert(
    fc.property(foretold, (groups) => {
      const found = calibrationOf(groups);
      if (groups.every(({ count }) => count === 0)) return void expect(found).toBeNull();
      const { score, reliability, resolution, uncertainty } = found!;
      expect(score).toBeCloseTo(brier(groups), 10);
      expect(reliability - resolution + uncertainty).toBeCloseTo(score, 10);
      for (const part of [score, reliability, resolution]) expect(part).toBeGreaterThanOrEqual(-1e-12);
      expect(uncertainty).toBeLessThanOrEqual(0.25);
    }),
  );
});

// Facts of the definition: perfect foresight scores 0, always one half 0.25, the share of all has neither reliability nor resolution.
test.each([
  [
    'perfect',
    [
      { chance: 1, count: 4, happened: 4 },
      { chance: 0, count: 6, happened: 0 },
    ],
    [0, 0, 0.24],
  ],
  ['one half of all', [{ chance: 0.5, count: 8, happened: 5 }], [0.25, 0.015_625, 0]],
  ['the share of all', [{ chance: 0.3, count: 10, happened: 3 }], [0.21, 0, 0]],
] as const)('%s', (_, groups, [score, reliability, resolution]) => {
  const found = calibrationOf(groups)!;
  expect(found.score).toBeCloseTo(score, 12);
  expect(found.reliability).toBeCloseTo(reliability, 12);
  expect(found.resolution).toBeCloseTo(resolution, 12);
});
