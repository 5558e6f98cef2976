import {
  costOfWaiting,
  countChanges,
  drawCutLine,
  lowestPrice,
  putByHand,
  rankRound,
  type Candidate,
  type Horizon,
  type RankedRow,
} from '@kettle/core/round';
import { addDays } from '@kettle/core/time';
import { print } from './measure';

const horizon: Horizon = {
  days: Array.from({ length: 21 }, (_, index) => ({
    on: addDays('2026-11-24', index),
    ahead: index,
    freeMinutes: 180 + ((index * 37) % 200),
  })),
  prices: Array.from({ length: 21 }, (_, index) => 150 + ((index * 53) % 200)),
};

/** So many candidates, the same each time. */
function candidatesOf(count: number): { readonly candidates: Candidate[]; readonly random: () => number } {
  let state = 42;
  const random = () => (state = (state * 1_103_515_245 + 12_345) % 2_147_483_648) / 2_147_483_648;
  const candidates = Array.from({ length: count }, (_, n): Candidate => ({
    key: `task:${n}`,
    kind: 'task',
    group: `person:${Math.floor(random() * count)}`,
    channel: 'call',
    stakeMinor: Math.floor(random() * 500_000),
    minutes: 3 + Math.floor(random() * 40),
    decay: {
      kind: 'half-life',
      p0: 0.6,
      behindDays: Math.floor(random() * 8) - 3,
      halfLifeDays: 1 + random() * 9,
      per: 'working',
    },
    dueOn: '2026-11-24',
    fixedAfterMinutes: null,
    deadlineDay: null,
    reachable: null,
    pinned: false,
    timesMoved: 0,
  }));
  return { candidates, random };
}

/** Ranking alone, without a database: what it adds to one pass over the candidates, against sorting as many numbers. */
function benchRanking(): void {
  const { candidates, random } = candidatesOf(20_000);
  const numbers = candidates.map(() => random());
  const lowest = lowestPrice(horizon);
  const works = {
    pass: () => candidates.map((candidate) => costOfWaiting(candidate, horizon, lowest)),
    sort: () => [...numbers].sort((a, b) => a - b),
    rank: () => rankRound(candidates, horizon),
  };
  // Turn about, so that all three meet the same machine.
  const times = { pass: [] as number[], sort: [] as number[], rank: [] as number[] };
  for (let n = 0; n < 41; n += 1)
    for (const name of ['pass', 'sort', 'rank'] as const) {
      const start = performance.now();
      works[name]();
      times[name].push(performance.now() - start);
    }
  const median = (name: keyof typeof times) => times[name].sort((a, b) => a - b)[20]!;
  const [pass, sort, rank] = [median('pass'), median('sort'), median('rank')];
  print({
    name: 'ranking 20,000 candidates, less one pass that costs each, against sorting 20,000 numbers',
    value: rank - pass,
    unit: 'ms',
    baseline: sort,
    ratio: (rank - pass) / sort,
    aim: 3,
    note: `whole ranking ${rank.toFixed(2)} ms, the pass alone ${pass.toFixed(2)} ms`,
  });
}

/** One frame at 60 a second, in milliseconds. */
const frame = 1000 / 60;

/** A day of 2,000 rows computed anew, with ten put by hand, and what of it would change on screen: inside one frame. */
function benchRecomputing(): void {
  const { candidates } = candidatesOf(2000);
  const compute = (all: readonly Candidate[]) => {
    const { above, below } = drawCutLine(rankRound(all, horizon), horizon);
    return [...above, ...below.map(({ row }) => row)];
  };
  const shown = (rows: readonly RankedRow[]) =>
    rows.map(({ lead, minutes }) => ({ key: lead.key, words: `${lead.channel} ${minutes}` }));
  let placed: readonly Candidate[] = candidates;
  for (let n = 0; n < 10; n += 1) {
    const rows = compute(placed);
    const [key, before] = [rows[n * 7 + 40]!.lead.key, rows[n * 3]!.lead.key];
    const places = new Map(
      putByHand(rows, { key, before, isToday: true })!.map(({ key: of, ...place }) => [of, place]),
    );
    placed = placed.map((each) => ({ ...each, hand: places.get(each.key) ?? null }));
  }
  const before = shown(compute(placed));
  // A reply has made every hundredth of them worth more.
  const later = placed.map((each, n) =>
    n % 100 === 0 ? { ...each, stakeMinor: each.stakeMinor * 3 } : each,
  );
  const times: number[] = [];
  let changes = 0;
  for (let n = 0; n < 41; n += 1) {
    const start = performance.now();
    changes = countChanges(before, shown(compute(later)));
    times.push(performance.now() - start);
  }
  const value = times.sort((a, b) => a - b)[20]!;
  print({
    name: 'recomputing a Round of 2,000 rows with its changes on screen, against one frame',
    value,
    unit: 'ms',
    baseline: frame,
    ratio: value / frame,
    aim: 1,
    note: `${changes} changes found`,
  });
}

benchRanking();
benchRecomputing();
