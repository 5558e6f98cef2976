import * as fc from 'fast-check';
import { chanceInTime, chanceOfAtLeast, distributionOf, leastSlips, movesOf, percentileOf } from './index';

test('won is never worse than lost, whatever the amounts', () => {
  const someDeals = fc.array(
    fc.record({
      minor: fc.integer({ min: 0, max: 5_000_000 }),
      chance: fc.integer({ min: 0, max: 100 }).map((n) => n / 100),
    }),
    { maxLength: 25 },
  );
  fc.assert(
    fc.property(someDeals, fc.integer({ min: 0, max: 60_000_000 }), (deals, wanted) => {
      for (const { ifWon, ifLost } of movesOf(deals, wanted, 4))
        expect(ifWon).toBeGreaterThanOrEqual(ifLost - 1e-9);
    }),
  );
});

test('what a deal moves is the chance with it certain and without it; what happens lies between by its own chance', () => {
  const whole = fc.array(
    fc.record({
      minor: fc.integer({ min: 1, max: 60 }).map((n) => n * 100),
      chance: fc.constantFrom(0.1, 0.4, 0.9),
    }),
    { minLength: 1, maxLength: 12 },
  );
  fc.assert(
    fc.property(whole, fc.integer({ min: 0, max: 70_000 }), (deals, wanted) => {
      const chance = chanceOfAtLeast(distributionOf(deals), wanted);
      for (const { at, ifWon, ifLost } of movesOf(deals, wanted, 3)) {
        const p = deals[at]!.chance;
        expect(ifWon * p + ifLost * (1 - p)).toBeCloseTo(chance, 10);
        const without = deals.filter((_, index) => index !== at);
        expect(ifLost).toBeCloseTo(chanceOfAtLeast(distributionOf(without), wanted), 10);
      }
    }),
  );
});

test('those on which most hangs come first', () => {
  const deals = [
    { minor: 100, chance: 0.5 },
    { minor: 9000, chance: 0.5 },
    { minor: 90_000, chance: 1 },
    { minor: 400, chance: 0.5 },
  ];
  expect(movesOf(deals, 90_400, 2).map(({ at }) => at)).toEqual([1, 3]);
  expect(percentileOf(distributionOf(deals), 0.01)).toBe(90_000);
});

describe('closing in time', () => {
  const month = { firstIn: -10, lastIn: 20 };
  const slips = (...days: number[]) => days.flatMap((day) => Array.from({ length: leastSlips }, () => day));

  test('with little history a deal closes on its day; what is overdue in the period that runs', () => {
    const none = [0, 5];
    expect(chanceInTime(none, { ...month, expectedIn: 20 })).toBe(1);
    expect(chanceInTime(none, { ...month, expectedIn: 21 })).toBe(0);
    expect(chanceInTime(none, { ...month, expectedIn: -40 })).toBe(1);
    expect(chanceInTime(none, { firstIn: 21, lastIn: 50, expectedIn: -40 })).toBe(0);
    expect(chanceInTime(none, { firstIn: -30, lastIn: -1, expectedIn: -5 })).toBe(0);
  });

  test('half of the won ones were ten days late: of those due in the last days half close inside', () => {
    const half = slips(0, 10);
    expect(chanceInTime(half, { ...month, expectedIn: 15 })).toBe(0.5);
    expect(chanceInTime(half, { ...month, expectedIn: 5 })).toBe(1);
    expect(chanceInTime(half, { firstIn: 21, lastIn: 50, expectedIn: 15 })).toBe(0.5);
    // The day has passed, so it is one of the late ones.
    expect(chanceInTime(half, { firstIn: -10, lastIn: 3, expectedIn: -5 })).toBe(0);
    expect(chanceInTime(half, { firstIn: -10, lastIn: 5, expectedIn: -5 })).toBe(1);
  });

  test('later than all were, its day says nothing: it is as if it were expected today', () => {
    expect(chanceInTime(slips(0, 10), { firstIn: -10, lastIn: 3, expectedIn: -300 })).toBe(0.5);
  });

  test('a chance is one, and periods one after the other share all there is', () => {
    const history = fc.array(fc.integer({ min: -90, max: 200 }), { minLength: leastSlips, maxLength: 60 });
    fc.assert(
      fc.property(history, fc.integer({ min: -60, max: 300 }), (days, expectedIn) => {
        const periods = [0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 16, 17, 18, 19].map((n) => ({
          firstIn: n * 30,
          lastIn: n * 30 + 29,
        }));
        const chances = periods.map((period) => chanceInTime(days, { ...period, expectedIn }));
        for (const chance of chances) {
          expect(chance).toBeGreaterThanOrEqual(0);
          expect(chance).toBeLessThanOrEqual(1);
        }
        const sum = chances.reduce((all, each) => all + each, 0);
        expect(Math.abs(sum - Math.round(sum))).toBeLessThan(1e-9);
        expect(sum).toBeLessThanOrEqual(1 + 1e-9);
      }),
    );
  });
});
