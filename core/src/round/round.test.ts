import fc from 'fast-check';
import {
  chanceAfter,
  costOfWaiting,
  defaultRoundSettings,
  drawCutLine,
  explainRow,
  priceDays,
  promiseWorth,
  rankRound,
  type Candidate,
  type Decay,
  type Horizon,
} from '.';
import { addDays } from '../time';

const today = '2026-11-24';
/** A price for all days, or one for each. */
const horizonOf = (
  price: number | ((day: number) => number) = 0,
  free: number | ((day: number) => number) = 240,
): Horizon => ({
  days: Array.from({ length: 21 }, (_, index) => ({
    on: addDays(today, index),
    ahead: index,
    freeMinutes: typeof free === 'number' ? free : free(index),
  })),
  prices: Array.from({ length: 21 }, (_, index) => (typeof price === 'number' ? price : price(index))),
});
const halving = (p0: number, behindDays: number, halfLifeDays: number): Decay => ({
  kind: 'half-life',
  p0,
  behindDays,
  halfLifeDays,
  per: 'working',
});
let made = 0;
const candidateOf = (part: Partial<Candidate> = {}): Candidate => {
  made += 1;
  const key = part.key ?? `task:${made}`;
  return {
    key,
    kind: 'task',
    group: key,
    channel: 'call',
    stakeMinor: 10_000,
    minutes: 6,
    decay: halving(0.6, 0, 5),
    dueOn: today,
    fixedAfterMinutes: null,
    deadlineDay: null,
    reachable: null,
    pinned: false,
    timesMoved: 0,
    ...part,
  };
};
const order = (candidates: readonly Candidate[], horizon = horizonOf()) =>
  rankRound(candidates, horizon).map((row) => row.lead.key);

describe('chances', () => {
  test('flat until due, then halved each half-life', () => {
    const decay = halving(0.8, -2, 5);
    expect([0, 1, 2, 7].map((day) => chanceAfter(decay, day, day))).toEqual([0.8, 0.8, 0.8, 0.4]);
  });

  test('a notice deadline is worth nothing once it is past', () => {
    const decay: Decay = { kind: 'deadline', daysLeft: 6, lastDay: 0.4, halfDays: 6 };
    expect(chanceAfter(decay, 0, 0)).toBeCloseTo(0.7);
    // Its own day still saves what a call on the last day saves; then comes the cliff.
    expect(chanceAfter(decay, 4, 6)).toBeCloseTo(0.4);
    expect(chanceAfter(decay, 5, 7)).toBe(0);
  });

  test('what a floor keeps no waiting takes away', () => {
    const decay: Decay = {
      kind: 'half-life',
      p0: 1,
      behindDays: 0,
      halfLifeDays: 2,
      per: 'working',
      floor: 0.2,
    };
    expect(chanceAfter(decay, 2, 2)).toBeCloseTo(0.6);
    expect(chanceAfter(decay, 4, 4)).toBeCloseTo(0.4);
    expect(chanceAfter(decay, 20, 20)).toBeGreaterThan(0.2);
  });

  test('calendar decays count calendar days', () => {
    const decay: Decay = { kind: 'half-life', p0: 1, behindDays: 0, halfLifeDays: 3, per: 'calendar' };
    expect(chanceAfter(decay, 1, 3)).toBe(0.5);
  });
});

describe('cost of waiting', () => {
  test('with an easy day it is what the delay loses', () => {
    const waiting = costOfWaiting(
      candidateOf({ stakeMinor: 100_000, decay: halving(0.6, 0, 1) }),
      horizonOf(),
    );
    expect(waiting).toMatchObject({ chanceToday: 0.6, laterDay: 1, chanceLater: 0.3 });
    expect(waiting.cost).toBeCloseTo(30_000);
  });

  test('with too much work it is nearly the whole value', () => {
    const waiting = costOfWaiting(candidateOf({ stakeMinor: 1000 }), horizonOf(1000));
    expect(waiting.laterDay).toBeNull();
    expect(waiting.cost).toBeCloseTo(600);
  });

  test('days without room, or on which nobody is there, do not count', () => {
    const slow = candidateOf({
      decay: halving(0.6, 0, 2),
      reachable: Array.from({ length: 21 }, (_, day) => day !== 2),
    });
    expect(
      costOfWaiting(
        slow,
        horizonOf(0, (day) => (day === 1 ? 5 : 240)),
      ).laterDay,
    ).toBe(3);
  });

  test('a day whose minutes are dear is passed over', () => {
    const horizon = horizonOf((day) => (day === 1 ? 400 : 100));
    expect(costOfWaiting(candidateOf({ decay: halving(0.6, 0, 60), minutes: 6 }), horizon).laterDay).toBe(2);
  });

  test('the bound that ends the search early never changes the answer', () => {
    const decay = fc.record({
      p0: fc.double({ min: 0.01, max: 1, noNaN: true }),
      behind: fc.integer({ min: -15, max: 15 }),
      half: fc.double({ min: 0.3, max: 30, noNaN: true }),
    });
    fc.assert(
      fc.property(
        decay,
        fc.integer({ min: 0, max: 500_000 }),
        fc.integer({ min: 1, max: 60 }),
        fc.double({ min: 0, max: 900, noNaN: true }),
        fc.array(fc.integer({ min: 0, max: 300 }), { minLength: 21, maxLength: 21 }),
        (drawn, stakeMinor, minutes, price, free) => {
          const horizon = horizonOf(
            (day) => price * (1 + (day % 3)),
            (day) => free[day]!,
          );
          const candidate = candidateOf({
            stakeMinor,
            minutes,
            decay: halving(drawn.p0, drawn.behind, drawn.half),
          });
          const plain = horizon.days.slice(1).reduce((best, day, index) => {
            if (day.freeMinutes < minutes) return best;
            const worth =
              stakeMinor * chanceAfter(candidate.decay, index + 1, day.ahead) -
              horizon.prices[index + 1]! * minutes;
            return Math.max(best, worth);
          }, 0);
          expect(costOfWaiting(candidate, horizon).cost).toBeCloseTo(
            stakeMinor * chanceAfter(candidate.decay, 0, 0) - plain,
            5,
          );
        },
      ),
    );
  });
});

describe('the order of the Round', () => {
  test('by cost of waiting for each minute', () => {
    const long = candidateOf({ key: 'long', stakeMinor: 20_000, minutes: 40 });
    const short = candidateOf({ key: 'short', stakeMinor: 10_000, minutes: 5 });
    expect(order([long, short])).toEqual(['short', 'long']);
  });

  test('equal ones by due day, then key', () => {
    const same = (key: string, dueOn: string) => candidateOf({ key, dueOn });
    expect(order([same('c', today), same('b', today), same('a', addDays(today, -1))])).toEqual([
      'a',
      'b',
      'c',
    ]);
  });

  test('a promise stands where the free minutes before it end', () => {
    const promise = candidateOf({ key: 'promise', stakeMinor: 100, fixedAfterMinutes: 13, minutes: 10 });
    const others = ['a', 'b', 'c', 'd'].map((key, index) => candidateOf({ key, stakeMinor: 50_000 - index }));
    expect(order([promise, ...others])).toEqual(['a', 'b', 'promise', 'c', 'd']);
  });

  test('a pinned row stands first', () => {
    expect(
      order([
        candidateOf({ key: 'dear', stakeMinor: 90_000 }),
        candidateOf({ key: 'pinned', stakeMinor: 1, pinned: true }),
      ]),
    ).toEqual(['pinned', 'dear']);
  });

  test('reasons of one person and purpose are one row, led by the dearest, and none is lost', () => {
    const rows = rankRound(
      [
        candidateOf({ key: 'quiet', group: 'person', stakeMinor: 100, deadlineDay: 3 }),
        candidateOf({ key: 'reply', group: 'person', stakeMinor: 80_000 }),
      ],
      horizonOf(),
    );
    expect(rows).toHaveLength(1);
    expect(rows[0]!.lead).toMatchObject({ key: 'reply', deadlineDay: 3 });
    expect(rows[0]!.merged.map((each) => each.key)).toEqual(['quiet']);
  });

  const drawn = fc.array(
    fc.record({
      stakeMinor: fc.integer({ min: 1, max: 500_000 }),
      minutes: fc.integer({ min: 1, max: 50 }),
      half: fc.double({ min: 0.4, max: 20, noNaN: true }),
      behind: fc.integer({ min: -4, max: 6 }),
      group: fc.option(fc.integer({ min: 0, max: 3 }), { nil: null }),
      fixed: fc.option(fc.integer({ min: 0, max: 200 }), { nil: null, freq: 6 }),
      deadlineDay: fc.option(fc.integer({ min: 0, max: 12 }), { nil: null, freq: 4 }),
    }),
    { minLength: 2, maxLength: 14 },
  );
  const build = (list: typeof drawn extends fc.Arbitrary<infer T> ? T : never) =>
    list.map((each, index) =>
      candidateOf({
        key: `k${index}`,
        group: each.group === null ? `g${index}` : `person${each.group}`,
        stakeMinor: each.stakeMinor,
        minutes: each.minutes,
        decay: halving(0.6, each.behind, each.half),
        fixedAfterMinutes: each.fixed,
        deadlineDay: each.deadlineDay,
      }),
    );

  test('does not depend on the order of the input', () => {
    fc.assert(
      fc.property(drawn, fc.double({ min: 0, max: 500, noNaN: true }), (list, price) => {
        const candidates = build(list);
        const horizon = horizonOf(price);
        expect(order([...candidates].reverse(), horizon)).toEqual(order(candidates, horizon));
      }),
    );
  });

  test('raising a stake never lowers its row', () => {
    fc.assert(
      fc.property(
        drawn,
        fc.nat(),
        fc.integer({ min: 1, max: 400_000 }),
        fc.double({ min: 0, max: 500, noNaN: true }),
        (list, pick, more, price) => {
          const candidates = build(list).map((each) => ({ ...each, fixedAfterMinutes: null }));
          const chosen = pick % candidates.length;
          const horizon = horizonOf(price);
          const placeOf = (all: readonly Candidate[]) =>
            rankRound(all, horizon).findIndex((row) =>
              [row.lead, ...row.merged].some((each) => each.key === candidates[chosen]!.key),
            );
          const raised = candidates.map((each, index) =>
            index === chosen ? { ...each, stakeMinor: each.stakeMinor + more } : each,
          );
          expect(placeOf(raised)).toBeLessThanOrEqual(placeOf(candidates));
        },
      ),
    );
  });

  test('minutes above the line never exceed the free ones, but for fixed rows; every row is somewhere', () => {
    fc.assert(
      fc.property(drawn, fc.integer({ min: 0, max: 200 }), (list, free) => {
        const horizon = horizonOf(0, (day) => (day === 0 ? free : 60));
        const rows = rankRound(build(list), horizon);
        const { above, below } = drawCutLine(rows, horizon);
        const isMust = (row: (typeof rows)[number]) => row.lead.fixedAfterMinutes !== null;
        const must = above.filter(isMust).reduce((sum, row) => sum + row.minutes, 0);
        const others = above.filter((row) => !isMust(row)).reduce((sum, row) => sum + row.minutes, 0);
        expect(others).toBeLessThanOrEqual(Math.max(0, free - must));
        expect(above.length + below.length).toBe(rows.length);
        for (const { row, toDay } of below)
          if (toDay !== null && row.lead.deadlineDay !== null)
            expect(toDay).toBeLessThanOrEqual(row.lead.deadlineDay);
      }),
    );
  });
});

describe('the cut line', () => {
  test('what does not fit gets the first day with room; what has none in time is flagged', () => {
    const horizon = horizonOf(0, (day) => [10, 5, 30][day] ?? 0);
    const rows = rankRound(
      [
        candidateOf({ key: 'fits', stakeMinor: 90_000, minutes: 10 }),
        candidateOf({ key: 'later', stakeMinor: 50_000, minutes: 20 }),
        candidateOf({ key: 'missed', stakeMinor: 10, minutes: 25, deadlineDay: 1 }),
      ],
      horizon,
    );
    const cut = drawCutLine(rows, horizon);
    expect(cut.above.map((row) => row.lead.key)).toEqual(['fits']);
    expect(cut.below.map(({ row, toDay, willMiss }) => [row.lead.key, toDay, willMiss])).toEqual([
      ['later', 2, false],
      ['missed', null, true],
    ]);
  });

  test('a deadline today that no minute is free for is flagged', () => {
    const horizon = horizonOf(0, (day) => (day === 0 ? 0 : 60));
    const closes = candidateOf({ key: 'closes', stakeMinor: 1, deadlineDay: 0 });
    const cut = drawCutLine(rankRound([closes, candidateOf({ key: 'dear' })], horizon), horizon);
    expect(cut.above).toEqual([]);
    expect(cut.below.map(({ row, willMiss }) => [row.lead.key, willMiss])).toContainEqual(['closes', true]);
  });

  test('a deadline that no later day holds is taken today, and the cheapest other row gives way', () => {
    const horizon = horizonOf(0, (day) => (day === 0 ? 12 : day === 3 ? 60 : 0));
    const rows = rankRound(
      [
        candidateOf({ key: 'dear', stakeMinor: 90_000 }),
        candidateOf({ key: 'cheap', stakeMinor: 2_000 }),
        // It has until tomorrow, which has no room.
        candidateOf({
          key: 'closes',
          stakeMinor: 4_000,
          minutes: 6,
          deadlineDay: 1,
          decay: halving(0.6, -9, 5),
        }),
      ],
      horizon,
    );
    const cut = drawCutLine(rows, horizon);
    expect(cut.above.map((row) => row.lead.key).sort()).toEqual(['closes', 'dear']);
    expect(cut.below.map(({ row, toDay }) => [row.lead.key, toDay])).toEqual([['cheap', 3]]);
  });

  test('two deadlines and one place: the worthier has it, the other is flagged', () => {
    const horizon = horizonOf(0, (day) => (day === 1 ? 6 : 0));
    const closing = (key: string, stakeMinor: number) =>
      candidateOf({
        key,
        stakeMinor,
        deadlineDay: 2,
        decay: { kind: 'deadline', daysLeft: 2, lastDay: 0.4, halfDays: 20 },
      });
    const cut = drawCutLine(rankRound([closing('small', 1_000), closing('large', 9_000)], horizon), horizon);
    expect(cut.below.map(({ row, toDay, willMiss }) => [row.lead.key, toDay, willMiss])).toEqual([
      ['large', 1, false],
      ['small', null, true],
    ]);
  });

  test('who cannot be reached today is below, whatever it costs', () => {
    const away = candidateOf({
      key: 'away',
      stakeMinor: 900_000,
      reachable: Array.from({ length: 21 }, (_, day) => day > 0),
    });
    const cut = drawCutLine(rankRound([away], horizonOf()), horizonOf());
    expect([cut.above, cut.below[0]?.toDay]).toEqual([[], 1]);
  });

  test('the minutes of pinned rows count', () => {
    const horizon = horizonOf(0, (day) => (day === 0 ? 10 : 60));
    const cut = drawCutLine(
      rankRound(
        [
          candidateOf({ key: 'pinned', stakeMinor: 1, minutes: 8, pinned: true }),
          candidateOf({ key: 'dear' }),
        ],
        horizon,
      ),
      horizon,
    );
    expect(cut.above.map((row) => row.lead.key)).toEqual(['pinned']);
  });

  test('a merged row takes the minutes of its different acts, and a promised visit stays a visit', () => {
    const rows = rankRound(
      [
        candidateOf({ key: 'call', group: 'maud', minutes: 6, stakeMinor: 90_000 }),
        candidateOf({ key: 'quiet', group: 'maud', minutes: 8, stakeMinor: 1_000 }),
        candidateOf({ key: 'visit', group: 'maud', minutes: 40, channel: 'visit', fixedAfterMinutes: 60 }),
      ],
      horizonOf(),
    );
    expect(rows[0]).toMatchObject({
      minutes: 48,
      lead: { key: 'call', channel: 'visit', fixedAfterMinutes: 60 },
    });
  });
});

describe('the prices of the days', () => {
  const days = (free: (day: number) => number) => horizonOf(0, free).days;
  const many = (count: number, part: Partial<Candidate> = {}) =>
    Array.from({ length: count }, (_, index) =>
      candidateOf({ key: `m${index}`, stakeMinor: 10_000 + 100 * index, ...part }),
    );
  const price = (
    candidates: readonly Candidate[],
    free = (_day: number) => 240,
    arrivals: Candidate[][] = [],
  ) => priceDays({ candidates, days: days(free), before: null, arrivals });

  test('when everything fits they are 0', () => {
    expect(price(many(20)).every((each) => each === 0)).toBe(true);
  });

  test('with more work than the days have, minutes are worth something', () => {
    const prices = price(many(800, { decay: halving(0.6, 0, 50) }), () => 120);
    expect(Math.min(...prices.slice(0, 10))).toBeGreaterThan(0);
  });

  test('a day with less room is dearer than its neighbours, and one without any takes nothing', () => {
    const prices = price(many(60, { decay: halving(0.6, 0, 2) }), (day) => (day === 0 ? 30 : 120));
    expect(prices[0]).toBeGreaterThan(prices[1]!);
  });

  test('what arrived lately is expected again', () => {
    const daily = Array.from({ length: 20 }, () => many(60));
    expect(price([], () => 120).every((each) => each === 0)).toBe(true);
    expect(Math.max(...price([], () => 120, daily))).toBeGreaterThan(0);
  });

  test('do not depend on the order of the input, and never fall below 0', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 900_000 }), { maxLength: 60 }), (stakes) => {
        const candidates = stakes.map((stakeMinor, index) =>
          candidateOf({ key: `s${index}`, stakeMinor, minutes: 20 }),
        );
        const prices = price(candidates, () => 60);
        expect(price([...candidates].reverse(), () => 60)).toEqual(prices);
        expect(Math.min(...prices)).toBeGreaterThanOrEqual(0);
      }),
    );
  });
});

describe('days as a good sales manager would expect them', () => {
  /** Hundreds of cold calls at the end of a cadence. */
  const cold = Array.from({ length: 60 }, (_, index) =>
    candidateOf({ key: `cold${index}`, kind: 'step', stakeMinor: 12_000, decay: halving(0.15, 0, 3) }),
  );
  const hot = ['hot1', 'hot2', 'hot3'].map((key) =>
    candidateOf({ key, kind: 'reply', stakeMinor: 150_000, decay: halving(0.62, 0, 1) }),
  );
  const renewals = [1, 3, 6, 9].map((daysLeft) =>
    candidateOf({
      key: `notice${daysLeft}`,
      kind: 'renewal',
      stakeMinor: 300_000,
      minutes: 15,
      deadlineDay: daysLeft,
      decay: { kind: 'deadline', daysLeft, lastDay: 0.4, halfDays: 20 },
    }),
  );
  const promise = candidateOf({
    key: 'promise',
    stakeMinor: promiseWorth(defaultRoundSettings),
    decay: halving(0.6, 0, 5),
  });
  const cutOf = (candidates: readonly Candidate[], free: (day: number) => number) => {
    const days = horizonOf(0, free).days;
    const horizon = { days, prices: priceDays({ candidates, days, before: null, arrivals: [] }) };
    return drawCutLine(rankRound(candidates, horizon), horizon);
  };
  const keysOf = (cut: ReturnType<typeof cutOf>) => cut.above.map((row) => row.lead.key);

  test('hot replies come before cold calls, and a notice that closes is not left', () => {
    const above = keysOf(cutOf([...cold, ...hot, ...renewals], () => 120));
    expect(above.slice(0, 3).sort()).toEqual(['hot1', 'hot2', 'hot3']);
    expect(cutOf([...cold, ...hot, ...renewals], () => 120).below.some(({ willMiss }) => willMiss)).toBe(
      false,
    );
  });

  test('a promise beats a cold call and not a deal', () => {
    const above = keysOf(cutOf([...cold, promise, ...hot], () => 60));
    expect(above.indexOf('promise')).toBeLessThan(above.findIndex((key) => key.startsWith('cold')));
    expect(above.indexOf('hot3')).toBeLessThan(above.indexOf('promise'));
  });

  test('a huge deal gone stale is worth its minutes as long as it keeps a floor', () => {
    const stale = candidateOf({
      key: 'stale',
      kind: 'stalled',
      stakeMinor: 9_000_000,
      minutes: 14,
      decay: { kind: 'half-life', p0: 1, behindDays: 90, halfLifeDays: 15, per: 'calendar', floor: 0.2 },
    });
    expect(keysOf(cutOf([...cold, stale], () => 60))).toContain('stale');
  });

  test('a part-time rep gets the worthiest on the days there are; an empty calendar takes everything', () => {
    const partTime = cutOf([...cold, ...hot], (day) => (day % 2 === 0 ? 30 : 0));
    expect(keysOf(partTime).slice(0, 3).sort()).toEqual(['hot1', 'hot2', 'hot3']);
    expect(partTime.below.every(({ toDay }) => toDay === null || toDay % 2 === 0)).toBe(true);
    expect(cutOf([...cold, ...hot, promise], () => 480).below).toEqual([]);
  });
});

test('the arithmetic reads as a sentence', () => {
  const [row] = rankRound([candidateOf({ stakeMinor: 68_000, decay: halving(0.6, 0, 1) })], horizonOf());
  expect(explainRow(row!, horizonOf(), 'GBP').sentence).toBe(
    'Done today £408; left, it gets tomorrow and brings £204: waiting costs £204 for 6 min.',
  );
});

test('a sentence adds up as it is said, in pounds and in pence', () => {
  const amounts = (text: string) =>
    [...text.matchAll(/£([\d,]+(?:\.\d\d)?)/g)].map(([, digits]) => Number(digits!.replaceAll(',', '')));
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 5_000_000 }),
      fc.integer({ min: 1, max: 60 }),
      fc.double({ min: 0.05, max: 1, noNaN: true }),
      fc.double({ min: 0.3, max: 60, noNaN: true }),
      fc.double({ min: 0, max: 3000, noNaN: true }),
      (stakeMinor, minutes, p0, halfDays, price) => {
        const horizon = { ...horizonOf(), prices: horizonOf().days.map(() => price) };
        const [row] = rankRound(
          [candidateOf({ stakeMinor, minutes, decay: halving(p0, 0, halfDays) })],
          horizon,
        );
        const { sentence } = explainRow(row!, horizon, 'GBP');
        const [today = 0, ...rest] = amounts(sentence);
        const [cost, later = 0, spent = 0] = [rest.at(-1)!, ...rest.slice(0, -1)];
        expect(today - later + spent).toBeCloseTo(cost, 6);
      },
    ),
    { numRuns: 500 },
  );
});
