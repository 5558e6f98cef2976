import fc from 'fast-check';
import {
  chanceAfter,
  costOfWaiting,
  drawCutLine,
  explainRow,
  learnPriceOfMinute,
  rankRound,
  type Candidate,
  type Decay,
  type Horizon,
} from '.';
import { addDays } from '../time';

const today = '2026-11-24';
const horizonOf = (part: Partial<Horizon> = {}, free: number | ((day: number) => number) = 240): Horizon => ({
  days: Array.from({ length: 21 }, (_, index) => ({
    on: addDays(today, index),
    ahead: index,
    freeMinutes: typeof free === 'number' ? free : free(index),
  })),
  usualFreeMinutes: 240,
  priceOfMinute: 0,
  ...part,
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
    const decay: Decay = { kind: 'deadline', daysLeft: 6, medianDays: 3 };
    expect(chanceAfter(decay, 0, 0)).toBe(0.75);
    expect(chanceAfter(decay, 2, 3)).toBe(0);
    expect(chanceAfter(decay, 4, 6)).toBe(0);
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
    const waiting = costOfWaiting(candidateOf({ stakeMinor: 1000 }), horizonOf({ priceOfMinute: 1000 }));
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
        horizonOf({}, (day) => (day === 1 ? 5 : 240)),
      ).laterDay,
    ).toBe(3);
  });

  test('a full day makes its minutes dearer', () => {
    const horizon = horizonOf({ priceOfMinute: 100 }, (day) => (day === 1 ? 60 : 240));
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
          const horizon = horizonOf({ priceOfMinute: price }, (day) => free[day]!);
          const candidate = candidateOf({
            stakeMinor,
            minutes,
            decay: halving(drawn.p0, drawn.behind, drawn.half),
          });
          const plain = horizon.days.slice(1).reduce((best, day, index) => {
            if (day.freeMinutes < minutes) return best;
            const worth =
              stakeMinor * chanceAfter(candidate.decay, index + 1, day.ahead) -
              (price * 240 * minutes) / day.freeMinutes;
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
        const horizon = horizonOf({ priceOfMinute: price });
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
          const horizon = horizonOf({ priceOfMinute: price });
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

  test('minutes above the line never exceed the free ones, but for fixed rows and deadlines; every row is somewhere', () => {
    fc.assert(
      fc.property(drawn, fc.integer({ min: 0, max: 200 }), (list, free) => {
        const horizon = horizonOf({}, (day) => (day === 0 ? free : 60));
        const rows = rankRound(build(list), horizon);
        const { above, below } = drawCutLine(rows, horizon);
        const isMust = (row: (typeof rows)[number]) =>
          row.lead.fixedAfterMinutes !== null || (row.lead.deadlineDay ?? 9) < 1;
        const must = above.filter(isMust).reduce((sum, row) => sum + row.lead.minutes, 0);
        const others = above.filter((row) => !isMust(row)).reduce((sum, row) => sum + row.lead.minutes, 0);
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
    const horizon = horizonOf({}, (day) => [10, 5, 30][day] ?? 0);
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

  test('a deadline today is above the line even when it is cheap and nothing is free', () => {
    const horizon = horizonOf({}, (day) => (day === 0 ? 0 : 60));
    const cut = drawCutLine(
      rankRound(
        [candidateOf({ key: 'closes', stakeMinor: 1, deadlineDay: 0 }), candidateOf({ key: 'dear' })],
        horizon,
      ),
      horizon,
    );
    expect(cut.above.map((row) => row.lead.key)).toEqual(['closes']);
  });

  test('what stayed below teaches the price of a minute', () => {
    const horizon = horizonOf({}, (day) => (day === 0 ? 0 : 60));
    const cut = drawCutLine(rankRound([candidateOf({ stakeMinor: 10_000, minutes: 6 })], horizon), horizon);
    expect(cut.bestBelowPerMinute).toBeCloseTo(1000);
    expect(learnPriceOfMinute([])).toBe(0);
    expect(learnPriceOfMinute([7, 7, 7])).toBeCloseTo(7);
    expect(learnPriceOfMinute([0, 0, 90])).toBeGreaterThan(learnPriceOfMinute([90, 0, 0]));
  });
});

test('the arithmetic reads as a sentence', () => {
  const [row] = rankRound([candidateOf({ stakeMinor: 68_000, decay: halving(0.6, 0, 1) })], horizonOf());
  expect(explainRow(row!, horizonOf(), 'GBP').sentence).toBe(
    'Done today £408; left, it gets tomorrow and brings £204: waiting costs £204 for 6 min.',
  );
});
