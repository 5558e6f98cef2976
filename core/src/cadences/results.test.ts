import fc from 'fast-check';
import { addDays } from '../time';
import { calendarOf } from '../../testing/calendars';
import { personRate, shareOf } from '../stats';
import {
  aliveOf,
  answersByTry,
  bestHours,
  casesNeeded,
  compareVariants,
  levelStarts,
  plainStep,
  previewLoad,
  resultsBy,
  variantOf,
  type LoadRun,
} from '.';

describe('results', () => {
  const fact = (step: number, acted: boolean, answered: boolean, variant: string | null = null) => ({
    step,
    channel: 'call' as const,
    variant,
    acted,
    answered,
  });
  test('are counted by step: reached, of those acted, of those answered', () => {
    const results = resultsBy(
      [fact(0, true, true), fact(0, true, false), fact(0, false, false), fact(1, true, false)],
      ({ step }) => step,
    );
    expect(results.get(0)).toMatchObject({
      reached: 3,
      acted: { part: 2, whole: 3 },
      answered: { part: 1, whole: 2 },
    });
    expect(results.get(1)!.answered.high).toBeLessThan(1);
  });

  test('a thin comparison says how many more it needs, and gives no verdict', () => {
    expect(compareVariants(shareOf(9, 10), shareOf(0, 25))).toEqual({ kind: 'thin', more: 25 });
  });
  test('a plain difference is called, one that chance makes is not', () => {
    expect(compareVariants(shareOf(56, 70), shareOf(28, 80))).toMatchObject({
      kind: 'clear',
      better: 'first',
    });
    const open = compareVariants(shareOf(12, 40), shareOf(10, 40));
    expect(open).toMatchObject({ kind: 'open' });
    expect(open.kind === 'open' && open.more! > 500).toBe(true);
    expect(compareVariants(shareOf(10, 40), shareOf(10, 40))).toMatchObject({ more: null });
  });
  // Fleiss 1981, table A.3, without correction for continuity; from memory.
  test('60 against 70 % need 356 cases each', () => {
    expect(casesNeeded(0.6, 0.7)).toBe(356);
  });

  test('the k-th try counts only those who were still silent and got it', () => {
    const runs = [
      { tries: 1, answeredAfter: 1 },
      { tries: 3, answeredAfter: 3 },
      { tries: 2, answeredAfter: null },
    ];
    expect(answersByTry(runs).map(({ part, whole }) => [part, whole])).toEqual([
      [1, 3],
      [0, 2],
      [1, 1],
    ]);
  });

  test('a lucky hour with two tries does not lead one that was tried often', () => {
    const tally = (hour: number, tried: number, answered: number) =>
      ({ channel: 'call', weekday: 2, hour, tried, answered }) as const;
    const [best] = bestHours([tally(8, 2, 2), tally(10, 60, 36), tally(14, 60, 6), tally(16, 60, 6)]);
    expect(best).toMatchObject({ hour: 10 });
  });

  test('a person nobody tried is expected to answer like people of the kind', () => {
    const none = { tried: 0, answered: 0 };
    const rate = personRate(
      none,
      { tried: 100, answered: 40 },
      { tried: 1000, answered: 100 },
      { person: 12, segment: 12 },
    );
    expect(rate).toBeCloseTo((40 + 1.2) / 112, 10);
  });
});

describe('load', () => {
  const monday = '2026-11-23';
  const days = Array.from({ length: 12 }, (_, n) => addDays(monday, n));
  const step = (offsetDays: number, minutes: number, mode: 'by-hand' | 'by-itself' = 'by-hand') => ({
    ...plainStep,
    channel: 'email' as const,
    offsetDays,
    windowStart: 540,
    windowEnd: 1020,
    minutes,
    purpose: 'ask',
    mode,
  });
  const run = (part: Partial<LoadRun> = {}): LoadRun => ({
    definition: { steps: [step(0, 10), step(2, 8, 'by-itself'), step(3, 6)], answeredStep: null },
    step: 0,
    nextOn: '2026-11-24',
    calendar: calendarOf(),
    alive: [1, 0.8, 0.5],
    ...part,
  });
  const asDays = (minutes: readonly number[]) =>
    Object.fromEntries(minutes.flatMap((each, n) => (each === 0 ? [] : [[days[n]!, each]])));

  test('later steps count with the chance of coming so far; what goes by itself costs nothing', () => {
    expect(asDays(previewLoad([run()], days))).toEqual({ '2026-11-24': 10, '2026-12-01': 3 });
  });
  test('a run that stands at a step is there for certain, and a late step is done on the first day', () => {
    expect(asDays(previewLoad([run({ step: 2, nextOn: '2026-11-12' })], days))).toEqual({ [monday]: 6 });
  });
  test('survival starts from the usual loss and follows what was measured', () => {
    expect(aliveOf([], 3).map((alive) => alive.toFixed(3))).toEqual(['1.000', '0.920', '0.846']);
    expect(aliveOf([1000, 500], 2)[1]).toBeCloseTo(0.504, 3);
  });
});

describe('levelled starts', () => {
  test('fill the quiet days first, in order', () => {
    const leveled = levelStarts({ count: 4, pattern: [10], load: [30, 0, 20], capacity: [60], days: 3 });
    expect(leveled.starts).toEqual([1, 1, 1, 2]);
    expect(leveled.peak).toBe(30);
  });
  test('who does not fit is said', () => {
    const leveled = levelStarts({ count: 3, pattern: [40, 0, 40], load: [], capacity: [60], days: 2 });
    expect(leveled.starts).toEqual([0, 1, null]);
  });
  test('keep their order, the capacity and one another, and never make a higher day than starting all at once', () => {
    const minutes = fc.integer({ min: 0, max: 30 });
    fc.assert(
      fc.property(
        fc.record({
          count: fc.integer({ min: 1, max: 12 }),
          pattern: fc.array(minutes, { minLength: 1, maxLength: 5 }),
          load: fc.array(minutes, { maxLength: 8 }),
          days: fc.integer({ min: 1, max: 8 }),
        }),
        (drawn) => {
          const { starts, load, peak } = levelStarts({ ...drawn, capacity: [90] });
          const placed = starts.filter((start) => start !== null);
          expect(placed).toEqual([...placed].sort((a, b) => a - b));
          const sum = (list: readonly number[]) => list.reduce((total, each) => total + each, 0);
          expect(sum(load)).toBe(sum(drawn.load) + placed.length * sum(drawn.pattern));
          expect(peak).toBeLessThanOrEqual(90);
          const atOnce = drawn.pattern.map((each, n) => each * placed.length + (drawn.load[n] ?? 0));
          expect(peak).toBeLessThanOrEqual(Math.max(...atOnce, ...drawn.load));
        },
      ),
    );
  });
  test('nobody waits while the highest day is another one anyway', () => {
    const leveled = levelStarts({ count: 3, pattern: [10], load: [0, 0, 200], capacity: [300], days: 3 });
    expect(leveled.starts).toEqual([0, 0, 0]);
    expect(leveled.peak).toBe(200);
  });

  test('for one day’s work the peak is the lowest of all', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 4 }),
        fc.array(fc.integer({ min: 0, max: 9 }), { minLength: 4, maxLength: 4 }),
        (count, load) => {
          const lowest = (left: number, from: number, now: readonly number[]): number => {
            if (left === 0) return Math.max(...now);
            const choices = now.flatMap((_, day) =>
              day < from
                ? []
                : [
                    lowest(
                      left - 1,
                      day,
                      now.map((each, n) => (n === day ? each + 5 : each)),
                    ),
                  ],
            );
            return Math.min(...choices);
          };
          const { peak } = levelStarts({ count, pattern: [5], load, capacity: [100], days: 4 });
          expect(peak).toBe(lowest(count, 0, load));
        },
      ),
    );
  });
});

test('levelled starts: as many as can, at the lowest peak there is, as every way of starting them shows', () => {
  const minutes = fc.constantFrom(0, 5, 10, 20, 35);
  fc.assert(
    fc.property(
      fc.record({
        count: fc.integer({ min: 1, max: 5 }),
        pattern: fc.array(minutes, { minLength: 1, maxLength: 4 }),
        load: fc.array(minutes, { maxLength: 6 }),
        days: fc.integer({ min: 1, max: 5 }),
        capacity: fc.array(fc.constantFrom(40, 60, 90), { minLength: 1, maxLength: 4 }),
      }),
      (drawn) => {
        const { count, pattern, load, days, capacity } = drawn;
        let most = -1;
        let lowest = Infinity;
        const look = (day: number, started: number, filled: readonly number[]): void => {
          const isOver = filled.some(
            (each, at) => each > (load[at] ?? 0) + 1e-9 && each > (capacity[at] ?? capacity.at(-1)!) + 1e-9,
          );
          if (isOver) return;
          if (day === days) {
            const peak = Math.max(0, ...filled);
            if (started > most || (started === most && peak < lowest)) [most, lowest] = [started, peak];
            return;
          }
          for (let more = 0; more <= count - started; more += 1) {
            const length = Math.max(filled.length, day + pattern.length);
            const next = Array.from(
              { length },
              (_, at) => (filled[at] ?? 0) + (pattern[at - day] ?? 0) * more,
            );
            look(day + 1, started + more, next);
          }
        };
        look(0, 0, load);
        const { starts, peak } = levelStarts(drawn);
        expect(starts.filter((start) => start !== null)).toHaveLength(most);
        expect(Math.abs(peak - lowest)).toBeLessThanOrEqual(0.5);
      },
    ),
    { numRuns: 400 },
  );
});

test('variants: the same run always gets the same, and each is used about equally often', () => {
  const used = Array.from({ length: 3000 }, (_, n) => variantOf(['a', 'b', 'c'], `run-${n}`, 2));
  for (const name of ['a', 'b', 'c']) {
    const times = used.filter((each) => each === name).length;
    expect(times).toBeGreaterThan(880);
    expect(times).toBeLessThan(1120);
  }
  expect(variantOf(['a', 'b'], 'run-7', 1)).toBe(variantOf(['a', 'b'], 'run-7', 1));
  expect(variantOf([], 'run-7', 1)).toBeNull();
});
