import { costOfWaiting, lowestPrice, rankRound, type Candidate, type Horizon } from '@kettle/core/round';
import { addDays } from '@kettle/core/time';
import { print } from './measure';

/** Ranking alone, without a database: what it adds to one pass over the candidates, against sorting as many numbers. */
function benchRanking(): void {
  const count = 20_000;
  let state = 42;
  const random = () => (state = (state * 1_103_515_245 + 12_345) % 2_147_483_648) / 2_147_483_648;
  const horizon: Horizon = {
    days: Array.from({ length: 21 }, (_, index) => ({
      on: addDays('2026-11-24', index),
      ahead: index,
      freeMinutes: 180 + ((index * 37) % 200),
    })),
    prices: Array.from({ length: 21 }, (_, index) => 150 + ((index * 53) % 200)),
  };
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

benchRanking();
