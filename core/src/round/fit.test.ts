import fc from 'fast-check';
import { fitFalling, fitFloor, roundSettingsOf, defaultRoundSettings, usualOf, countsAs } from '.';
import { learnedNames, type LearnedValue, type RoundSettingsBody } from '@kettle/contract';

const usual = { chance: 0.6, halfDays: 5 };

/** Cases as a chance that halves would have them in the long run, some each day. */
const world = (chance: number, halfDays: number, each: number) =>
  Array.from({ length: 20 }, (_, waited) => ({
    waited,
    tried: each,
    brought: Math.round(each * chance * 2 ** (-waited / halfDays)),
  }));

describe('a chance that falls', () => {
  test.each([
    [0.8, 3],
    [0.3, 9],
    [0.45, 5],
  ])('of %d, halved in %d days, is found again in many cases', (chance, halfDays) => {
    const found = fitFalling(world(chance, halfDays, 4000), usual);
    expect(found.chance).toBeCloseTo(chance, 2);
    expect(Math.abs(Math.log2(found.halfDays / halfDays))).toBeLessThan(0.05);
  });

  test('without a case it is the usual one, with few it is near it', () => {
    expect(fitFalling([], usual).chance).toBeCloseTo(0.6, 9);
    expect(fitFalling([], usual).halfDays).toBe(5);
    const few = fitFalling([{ waited: 0, tried: 3, brought: 0 }], usual);
    expect(few.chance).toBeGreaterThan(0.5);
  });

  test('lies between the usual one and what was seen, the nearer to it the more was seen', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 400 }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (tried, share) => {
          const brought = Math.round(tried * share);
          const { chance } = fitFalling([{ waited: 0, tried, brought }], usual, { isFixed: true });
          const seen = brought / tried;
          expect(chance).toBeGreaterThanOrEqual(Math.min(seen, 0.6) - 1e-6);
          expect(chance).toBeLessThanOrEqual(Math.max(seen, 0.6) + 1e-6);
        },
      ),
    );
  });

  test('cases that nothing ever came of, and that always did, are no trouble', () => {
    expect(fitFalling([{ waited: 30, tried: 900, brought: 900 }], usual).chance).toBeLessThanOrEqual(1);
    expect(fitFalling([{ waited: 0, tried: 900, brought: 0 }], usual).chance).toBeGreaterThan(0);
  });
});

describe('the floor of what was left', () => {
  const left = (floor: number) =>
    [0.2, 0.5, 0.9].map((fallen) => ({
      ...{ fresh: 0.5, fallen, tried: 40_000 },
      brought: Math.round(40_000 * 0.5 * (1 - fallen * (1 - floor))),
    }));
  test.each([0.1, 0.35, 0.8])('%d is found again', (floor) => {
    expect(fitFloor(left(floor), 0.2)).toBeCloseTo(floor, 2);
  });
  test('without a case it is the usual one', () => {
    expect(fitFloor([], 0.2)).toBeCloseTo(0.2, 9);
  });
});

describe('what counts', () => {
  const none: RoundSettingsBody = {
    version: 1,
    p0: { reply: null, lead: null, task: null, step: null, waking: null, stirring: null },
    halfDays: { reply: null, lead: null, task: null, waking: null, stirring: null },
    ...{ silenceLossChance: null, promiseMinor: null, leadMinor: null },
    ...{ renewalHalfDays: null, renewalLastDay: null, dealFloor: null, reserveMinutes: 15 },
    minutes: { call: 6, email: 5, text: 2, meeting: 45, visit: 50, other: 10 },
  };
  const values = (learned: number | null): LearnedValue[] =>
    learnedNames.map((name) => ({ name, usual: usualOf(name, 'GBP'), learned, cases: 40 }));

  test('is the usual while nothing was set or learned', () => {
    expect(roundSettingsOf(none, values(null))).toEqual(defaultRoundSettings);
  });

  test('is what was learned over the usual, and what was set over both, in every one of them', () => {
    const set = { ...none, p0: { ...none.p0, task: 0 }, dealFloor: 0.9 };
    for (const value of values(0.33)) {
      const expected = { 'p0.task': 0, dealFloor: 0.9 }[value.name as string] ?? 0.33;
      expect([value.name, countsAs(value, set)]).toEqual([value.name, expected]);
    }
  });

  test('usual amounts are as many yen and dinars as pounds', () => {
    expect(['GBP', 'JPY', 'KWD'].map((currency) => usualOf('leadMinor', currency))).toEqual([
      12_000, 120, 120_000,
    ]);
  });
});
