import fc from 'fast-check';
import { minutesTaken, minutesTakenWith } from '.';

describe('how long an act takes', () => {
  test('is the usual length while nothing was timed', () => {
    expect(minutesTaken({ count: 0, sum: 0 }, 6)).toBe(6);
    expect(minutesTakenWith({ count: 0, sum: 0 }, 9)).toBe(9);
  });

  test('is drawn to what was timed, and with one person sooner than with all', () => {
    expect(minutesTaken({ count: 10, sum: 120 }, 6)).toBe(9);
    expect(minutesTakenWith({ count: 3, sum: 60 }, 8)).toBe(14);
    expect(minutesTaken({ count: 1000, sum: 12_000 }, 6)).toBe(12);
  });

  test('lies between the usual length and the mean, and is a whole minute at least', () => {
    const timed = fc.record({
      count: fc.integer({ min: 1, max: 500 }),
      mean: fc.integer({ min: 1, max: 480 }),
    });
    fc.assert(
      fc.property(timed, fc.integer({ min: 1, max: 480 }), ({ count, mean }, usual) => {
        const minutes = minutesTaken({ count, sum: count * mean }, usual);
        expect(minutes).toBeGreaterThanOrEqual(Math.min(mean, usual));
        expect(minutes).toBeLessThanOrEqual(Math.max(mean, usual));
        expect(Number.isInteger(minutes)).toBe(true);
      }),
    );
    expect(minutesTaken({ count: 500, sum: 0 }, 1)).toBe(1);
  });
});
