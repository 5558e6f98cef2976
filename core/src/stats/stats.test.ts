import fc from 'fast-check';
import {
  differenceOf,
  fisherTest,
  happenedBy,
  kaplanMeier,
  quantileTime,
  shareOf,
  shrunkRate,
  weightOf,
} from '.';

const counts = fc
  .tuple(fc.integer({ min: 0, max: 60 }), fc.integer({ min: 0, max: 60 }))
  .map(([yes, no]) => ({ yes, no, share: shareOf(yes, yes + no) }));

describe('shares', () => {
  test('no cases say nothing', () => {
    expect(shareOf(0, 0)).toMatchObject({ rate: 0, low: 0, high: 1 });
  });
  test('more than all is refused', () => {
    expect(() => shareOf(3, 2)).toThrow('3 of 2 is not a share');
  });
  test('the interval holds the rate, and the mirror of a share has the mirrored interval', () => {
    fc.assert(
      fc.property(counts, ({ yes, no, share }) => {
        fc.pre(yes + no > 0);
        const mirror = shareOf(no, yes + no);
        expect(share.low).toBeLessThanOrEqual(share.rate);
        expect(share.high).toBeGreaterThanOrEqual(share.rate);
        expect(share.low).toBeCloseTo(1 - mirror.high, 10);
      }),
    );
  });
  test('a difference turned round changes its sign', () => {
    fc.assert(
      fc.property(counts, counts, (a, b) => {
        const there = differenceOf(a.share, b.share);
        const back = differenceOf(b.share, a.share);
        expect(there.low).toBeCloseTo(-back.high, 10);
      }),
    );
  });
});

test('the exact test is a chance, and does not care which arm is named first', () => {
  fc.assert(
    fc.property(counts, counts, (a, b) => {
      const one = fisherTest({ first: [a.yes, a.no], second: [b.yes, b.no] });
      const other = fisherTest({ first: [b.yes, b.no], second: [a.yes, a.no] });
      expect(one.twoSided).toBeGreaterThanOrEqual(0);
      expect(one.twoSided).toBeLessThanOrEqual(1);
      expect(one.twoSided).toBeCloseTo(other.twoSided, 8);
    }),
  );
});

describe('time to an event', () => {
  test('when nobody’s watching ended early it is the plain share still waiting', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 30 }), { minLength: 1, maxLength: 40 }), (times) => {
        for (const point of kaplanMeier(times.map((time) => ({ time, happened: true }))))
          expect(point.survival).toBeCloseTo(
            times.filter((time) => time > point.time).length / times.length,
            10,
          );
      }),
    );
  });
  test('a median that is not reached is not made up', () => {
    expect(quantileTime(kaplanMeier([{ time: 3, happened: false }]), 0.5)).toBeNull();
  });
});

describe('shrinking', () => {
  test('without tries the wider rate stands; with many the own one', () => {
    expect(shrunkRate({ tried: 0, answered: 0 }, 0.3, 12)).toBeCloseTo(0.3);
    expect(shrunkRate({ tried: 10_000, answered: 9000 }, 0.3, 12)).toBeCloseTo(0.9, 2);
  });
  test('groups alike weigh the wider rate heavily, groups apart lightly, one alone as usual', () => {
    const alike = [1, 2, 3].map(() => ({ tried: 40, answered: 10 }));
    const apart = [
      { tried: 40, answered: 2 },
      { tried: 40, answered: 38 },
    ];
    expect(weightOf(alike)).toBe(200);
    expect(weightOf(apart)).toBe(5);
    expect(weightOf([{ tried: 5, answered: 1 }])).toBe(12);
    expect(
      weightOf([
        { tried: 5, answered: 0 },
        { tried: 9, answered: 0 },
      ]),
    ).toBe(200);
  });
});

describe('the chance that it has happened by a time', () => {
  const watched = fc.array(
    fc.record({
      time: fc.integer({ min: 0, max: 40 }),
      happened: fc.boolean(),
      count: fc.integer({ min: 1, max: 9 }),
    }),
    { minLength: 1, maxLength: 30 },
  );
  test('lies within its interval, and that within 0 and 1', () => {
    fc.assert(
      fc.property(watched, (cases) => {
        const { value, low, high } = happenedBy(cases, 30)!;
        expect(low).toBeGreaterThanOrEqual(0);
        expect(high).toBeLessThanOrEqual(1);
        expect(low).toBeLessThanOrEqual(value + 1e-12);
        expect(high).toBeGreaterThanOrEqual(value - 1e-12);
      }),
    );
  });
  test('is what it would be of each case by itself', () => {
    fc.assert(
      fc.property(watched, (cases) => {
        const each = cases.flatMap(({ time, happened, count }) =>
          Array.from({ length: count }, () => ({ time, happened })),
        );
        expect(happenedBy(cases, 30)!.value).toBeCloseTo(happenedBy(each, 30)!.value, 10);
      }),
    );
  });
  test('with none of them it is nought, as far as is known; without a case nothing is known', () => {
    expect(happenedBy([{ time: 30, happened: false, count: 20 }], 30)).toMatchObject({ value: 0, low: 0 });
    expect(happenedBy([], 30)).toBeNull();
  });
});
