/**
 * Outside checks. Smith 1956, "Various optimizers for single-stage production" (Naval Research Logistics Quarterly 3):
 * the ratio order has the least total weighted waiting. Moore 1968, "An n job, one machine sequencing algorithm for
 * minimizing the number of late jobs" (Management Science 15): its worked example, times 7 8 4 6 6 and due dates
 * 9 17 18 19 21, leaves two late at best. Gelman et al., Bayesian Data Analysis (2013), 2.4, from memory: with a beta(a, b) prior the
 * mode of a chance after y of n is (a + y - 1) / (a + b + n - 2).
 */
import fc from 'fast-check';
import { fewestLate } from '../../testing/fewest-late';
import { drawCutLine, fitFalling, rankRound, type Candidate, type Horizon } from '.';
import { addDays } from '../time';

const horizon: Horizon = {
  days: Array.from({ length: 21 }, (_, index) => ({
    on: addDays('2026-11-24', index),
    ahead: index,
    freeMinutes: 480,
  })),
  prices: Array.from({ length: 21 }, () => 0),
};

const itemOf = (key: string, stakeMinor: number, minutes: number): Candidate => ({
  key,
  kind: 'task',
  group: key,
  channel: 'call',
  stakeMinor,
  minutes,
  // Losing half by tomorrow makes the cost of waiting half the stake: a weight linear in the stake.
  decay: { kind: 'half-life', p0: 1, behindDays: 0, halfLifeDays: 1, per: 'working' },
  dueOn: '2026-11-24',
  fixedAfterMinutes: null,
  deadlineDay: null,
  reachable: null,
  pinned: false,
  timesMoved: 0,
});

function* permutations<Item>(items: readonly Item[]): Generator<Item[]> {
  if (items.length <= 1) yield [...items];
  else
    for (let pick = 0; pick < items.length; pick += 1)
      for (const rest of permutations([...items.slice(0, pick), ...items.slice(pick + 1)]))
        yield [items[pick]!, ...rest];
}

/** Sum over items of weight times the moment it is finished. */
function weightedWaiting(order: readonly Candidate[]): number {
  let clock = 0;
  return order.reduce((sum, item) => {
    clock += item.minutes;
    return sum + (item.stakeMinor / 2) * clock;
  }, 0);
}

test('Smith 1956: the order has the least weighted waiting of all permutations', () => {
  const items = fc.array(
    fc.record({ stake: fc.integer({ min: 1, max: 9000 }), minutes: fc.integer({ min: 1, max: 40 }) }),
    { minLength: 1, maxLength: 6 },
  );
  fc.assert(
    fc.property(items, (drawn) => {
      const candidates = drawn.map(({ stake, minutes }, index) => itemOf(`item${index}`, stake * 2, minutes));
      const ours = weightedWaiting(rankRound(candidates, horizon).map((row) => row.lead));
      const best = Math.min(...[...permutations(candidates)].map(weightedWaiting));
      expect(ours).toBe(best);
    }),
    { numRuns: 60 },
  );
});

test('Smith 1956 on eight items', () => {
  const candidates = [3, 9, 1, 14, 7, 2, 20, 5].map((stake, index) =>
    itemOf(`item${index}`, stake * 100, ((index * 5) % 8) + 1),
  );
  const ours = weightedWaiting(rankRound(candidates, horizon).map((row) => row.lead));
  let best = Infinity;
  for (const order of permutations(candidates)) best = Math.min(best, weightedWaiting(order));
  expect(ours).toBe(best);
});

test('Moore 1968: times 7 8 4 6 6, due 9 17 18 19 21: two late at best', () => {
  const times = [7, 8, 4, 6, 6];
  const due = [9, 17, 18, 19, 21];
  const jobs = times.map((minutes, index) => ({
    key: `job${index + 1}`,
    minutes,
    dueAfterMinutes: due[index]!,
  }));
  expect(fewestLate(jobs)).toHaveLength(2);
});

test('Moore 1968: never more late than the best of all orders', () => {
  const jobs = fc.array(
    fc.record({ minutes: fc.integer({ min: 1, max: 12 }), dueAfterMinutes: fc.integer({ min: 1, max: 40 }) }),
    { minLength: 1, maxLength: 6 },
  );
  fc.assert(
    fc.property(jobs, (drawn) => {
      const named = drawn.map((job, index) => ({ ...job, key: `job${index}` }));
      const lateIn = (order: typeof named) => {
        let clock = 0;
        return order.filter((job) => (clock += job.minutes) > job.dueAfterMinutes).length;
      };
      expect(fewestLate(named)).toHaveLength(Math.min(...[...permutations(named)].map(lateIn)));
    }),
    { numRuns: 60 },
  );
});

test('Moore 1968: of acts of one length and worth, the cut line lets no more deadlines pass than it has to', () => {
  const minutes = 10;
  const rooms = fc.array(fc.integer({ min: 0, max: 3 }), { minLength: 6, maxLength: 6 });
  const deadlines = fc.array(fc.integer({ min: 1, max: 5 }), { minLength: 1, maxLength: 14 });
  fc.assert(
    fc.property(rooms, deadlines, (places, due) => {
      const days = horizon.days
        .slice(0, 6)
        .map((day, t) => ({ ...day, freeMinutes: t === 0 ? 0 : places[t]! * minutes }));
      const candidates = due.map((deadlineDay, index) => ({
        ...itemOf(`act${index}`, 1000, minutes),
        deadlineDay,
      }));
      const short: Horizon = { days, prices: days.map(() => 0) };
      const { below } = drawCutLine(rankRound(candidates, short), short);
      const roomUpTo = (day: number) =>
        days.slice(1, day + 1).reduce((sum, each) => sum + each.freeMinutes, 0);
      const jobs = due.map((day, index) => ({ key: `act${index}`, minutes, dueAfterMinutes: roomUpTo(day) }));
      expect(below.filter(({ willMiss }) => willMiss)).toHaveLength(fewestLate(jobs).length);
    }),
  );
});

test.each([
  [0, 0, 0.6],
  [7, 10, 0.6],
  [3, 200, 0.15],
  [81, 263, 0.3],
])(
  'a chance learned from %d of %d, usually %d, is the mode of the beta posterior',
  (brought, tried, usual) => {
    const [a, b] = [1 + 30 * usual, 1 + 30 * (1 - usual)];
    const { chance } = fitFalling(
      [{ waited: 0, tried, brought }],
      { chance: usual, halfDays: 1 },
      { isFixed: true },
    );
    expect(chance).toBeCloseTo((a + brought - 1) / (a + b + tried - 2), 9);
  },
);

test('chance and half-life together are the most probable of all pairs on a fine grid', () => {
  const usual = { chance: 0.3, halfDays: 2 };
  const cases = [
    [0, 60, 31],
    [1, 44, 15],
    [2, 31, 9],
    [4, 28, 3],
    [9, 17, 1],
  ].map(([waited, tried, brought]) => ({ waited: waited!, tried: tried!, brought: brought! }));
  const likely = (chance: number, halfDays: number) => {
    let sum = 9 * Math.log(chance) + 21 * Math.log(1 - chance);
    for (const { waited, tried, brought } of cases) {
      const then = chance * 2 ** (-waited / halfDays);
      sum += brought * Math.log(then) + (tried - brought) * Math.log(1 - then);
    }
    return sum - Math.log(halfDays / usual.halfDays) ** 2 / (2 * 0.5 ** 2);
  };
  const found = fitFalling(cases, usual);
  let best = -Infinity;
  for (let chance = 0.005; chance < 1; chance += 0.005)
    for (let halfDays = 0.5; halfDays <= 8; halfDays += 0.05) best = Math.max(best, likely(chance, halfDays));
  // Its half-lives stand a twelfth of a doubling apart: no pair of the grid is clearly more probable.
  expect(likely(found.chance, found.halfDays)).toBeGreaterThan(best - 0.05);
});
