import {
  chanceAfter,
  drawCutLine,
  priceDays,
  rankRound,
  type Arrival,
  type Candidate,
  type Decay,
  type Horizon,
} from '@kettle/core/round';
import { addDays } from '@kettle/core/time';

/**
 * A simulated quarter: five reps, each in a seeded world of mixed work, worked day by day by the shipped ranking and by plainer rules. What
 * each brings is set against an upper bound that knows the whole quarter: the Lagrangian dual over the prices of the days.
 */
const workDays = 90;
const ahead = 20;
const evenMinutes = 200;
/** What is worth less than this is dropped, in minor units. */
const leastWorth = 20;

/** Mulberry32. */
function randomOf(seed: number): () => number {
  let state = seed | 0;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  };
}

const normal = (random: () => number) =>
  Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());

type Kind = Extract<
  Candidate['kind'],
  'reply' | 'lead' | 'task' | 'step' | 'loose' | 'stalled' | 'quiet' | 'renewal'
>;

/** Share of the work, minutes, median stake in minor units and its spread. */
const kinds: readonly (readonly [Kind, number, number, number, number])[] = [
  ['reply', 0.2, 6, 150_000, 1],
  ['lead', 0.08, 6, 90_000, 0.8],
  ['task', 0.25, 8, 150_000, 1],
  ['step', 0.28, 6, 90_000, 0.8],
  ['loose', 0.06, 6, 250_000, 1],
  ['stalled', 0.05, 14, 400_000, 1],
  ['quiet', 0.06, 8, 200_000, 0.8],
  ['renewal', 0.02, 15, 300_000, 0.7],
];

function decayFor(kind: Kind, random: () => number): { decay: Decay; share: number } {
  const working = (p0: number, halfLifeDays: number): Decay => ({
    kind: 'half-life',
    p0,
    behindDays: 0,
    halfLifeDays,
    per: 'working',
  });
  const calendar = (p0: number, halfLifeDays: number, floor = 0): Decay => ({
    kind: 'half-life',
    p0,
    behindDays: 0,
    halfLifeDays,
    per: 'calendar',
    floor,
  });
  switch (kind) {
    case 'reply':
      return { decay: working(0.62, 1), share: 1 };
    case 'lead':
      return { decay: working(0.3, 0.5), share: 1 };
    case 'task':
      return { decay: working(0.6, 5), share: 1 };
    case 'step':
      return { decay: working(0.15, 2 + Math.floor(random() * 5)), share: 1 };
    case 'loose':
    case 'stalled':
      return { decay: calendar(1, 10 + Math.floor(random() * 20), 0.2), share: 1 };
    case 'quiet':
      return { decay: calendar(0.3, 6 * (30 + Math.floor(random() * 60))), share: 1 };
    case 'renewal':
      return {
        decay: { kind: 'deadline', daysLeft: 8 + Math.floor(random() * 40), lastDay: 0.4, halfDays: 20 },
        share: 0.5,
      };
  }
}

interface Item extends Arrival {
  readonly key: string;
  readonly kind: Kind;
  readonly day: number;
  /** What it is worth on each day from the one it came on. */
  readonly values: Float64Array;
}

const calendarDays = (days: number) => (days * 7) / 5;

function worldOf(seed: number, load: number, capacity: number): Item[] {
  const random = randomOf(seed);
  const mean = kinds.reduce((sum, [, share, minutes]) => sum + share * minutes, 0);
  const each = (capacity * load) / mean;
  const items: Item[] = [];
  for (let day = 0; day < workDays; day += 1) {
    const count = Math.max(0, Math.round(each + Math.sqrt(each) * normal(random)));
    for (let n = 0; n < count; n += 1) {
      let drawn = random();
      const [kind, , usual, median, spread] = kinds.find(([, share]) => (drawn -= share) < 0) ?? kinds[0]!;
      const stake = median * Math.exp(normal(random) * spread);
      const minutes = Math.max(2, Math.round(usual * (0.6 + random())));
      const { decay, share } = decayFor(kind, random);
      const stakeMinor = stake * share;
      const values = Float64Array.from(
        { length: workDays + ahead + 1 },
        (_, wait) => stakeMinor * chanceAfter(decay, wait, calendarDays(wait)),
      );
      items.push({ key: `${day}:${n}`, kind, day, stakeMinor, minutes, decay, values });
    }
  }
  return items;
}

const valueOn = (item: Item, day: number) => item.values[Math.min(day - item.day, item.values.length - 1)]!;

/** The least found over the prices of the days of what everything could bring: no way of working brings more. */
function boundOf(items: readonly Item[], rooms: readonly number[]): number {
  const prices = new Float64Array(workDays);
  const rates = items.map((item) => item.values[0]! / item.minutes).sort((a, b) => b - a);
  const scale = rates[Math.floor(rates.length * 0.3)] ?? 0;
  let best = Infinity;
  for (let turn = 0; turn < 700; turn += 1) {
    const used = new Float64Array(workDays);
    let dual = prices.reduce((sum, price, day) => sum + price * rooms[day]!, 0);
    for (const item of items) {
      let gain = 0;
      let chosen = -1;
      for (let day = item.day; day < workDays; day += 1) {
        const left = item.values[day - item.day]! - prices[day]! * item.minutes;
        if (left > gain) [gain, chosen] = [left, day];
      }
      dual += gain;
      if (chosen >= 0) used[chosen]! += item.minutes;
    }
    best = Math.min(best, dual);
    const step = (scale * 0.5) / (1 + turn * 0.06);
    for (let day = 0; day < workDays; day += 1)
      prices[day] = Math.max(
        0,
        prices[day]! + (step * (used[day]! - rooms[day]!)) / Math.max(30, rooms[day]!),
      );
  }
  return best;
}

interface Rule {
  readonly name: string;
  /** Begins a quarter: answers whom a day takes. */
  begin(): (
    day: number,
    waiting: readonly Item[],
    rooms: readonly number[],
    arrived: readonly Item[],
  ) => Set<Item>;
}

const inOrder =
  (score: (item: Item, day: number) => number): Rule['begin'] =>
  () =>
  (day, waiting, rooms) => {
    let left = rooms[day]!;
    const taken = new Set<Item>();
    const ordered = waiting.map((item) => ({ item, at: score(item, day) })).sort((a, b) => b.at - a.at);
    for (const { item } of ordered)
      if (item.minutes <= left) {
        left -= item.minutes;
        taken.add(item);
      }
    return taken;
  };

const dayOne = '2026-01-05';

/** The shipped prices, ranking and cut line. */
const shipped: Rule['begin'] = () => {
  let before: number[] | null = null;
  const seen: (readonly Item[])[] = [];
  return (day, waiting, rooms, arrived) => {
    seen.push(arrived);
    const days = Array.from({ length: ahead + 1 }, (_, t) => ({
      on: addDays(dayOne, t),
      ahead: calendarDays(t),
      freeMinutes: rooms[day + t]!,
    }));
    const candidates = waiting.map((item): Candidate => candidateOn(item, day));
    const prices = priceDays({ candidates, days, before, arrivals: seen.slice(-ahead) });
    before = prices;
    const horizon: Horizon = { days, prices };
    const byKey = new Map(waiting.map((item) => [item.key, item]));
    const { above } = drawCutLine(rankRound(candidates, horizon), horizon);
    return new Set(above.map(({ lead }) => byKey.get(lead.key)!));
  };
};

function candidateOn(item: Item, day: number): Candidate {
  const waited = day - item.day;
  const { decay } = item;
  const moved: Decay =
    decay.kind === 'deadline'
      ? { ...decay, daysLeft: decay.daysLeft - calendarDays(waited) }
      : { ...decay, behindDays: decay.per === 'working' ? waited : calendarDays(waited) };
  const lastDay = moved.kind === 'deadline' ? Math.floor((moved.daysLeft * 5) / 7 + 1e-9) : null;
  return {
    key: item.key,
    kind: item.kind,
    group: item.key,
    channel: 'call',
    stakeMinor: item.stakeMinor,
    minutes: item.minutes,
    decay: moved,
    dueOn: addDays(dayOne, -waited),
    fixedAfterMinutes: null,
    deadlineDay: lastDay !== null && lastDay >= 0 && lastDay <= ahead ? lastDay : null,
    reachable: null,
    pinned: false,
    timesMoved: 0,
  };
}

const dueDay = (item: Item) =>
  item.day + (item.decay.kind === 'deadline' ? (item.decay.daysLeft * 5) / 7 : 0);
const rules: readonly Rule[] = [
  { name: 'shipped', begin: shipped },
  { name: 'value a minute', begin: inOrder((item, day) => valueOn(item, day) / item.minutes) },
  {
    name: 'loss of a day',
    begin: inOrder((item, day) => (valueOn(item, day) - valueOn(item, day + 1)) / item.minutes),
  },
  { name: 'value', begin: inOrder((item, day) => valueOn(item, day)) },
  { name: 'due day', begin: inOrder((item) => -dueDay(item)) },
  { name: 'oldest first', begin: inOrder((item) => -item.day) },
];

function quarterOf(rule: Rule, items: readonly Item[], rooms: readonly number[]): number {
  const work = rule.begin();
  let waiting: Item[] = [];
  let brought = 0;
  for (let day = 0; day < workDays; day += 1) {
    const arrived = items.filter((item) => item.day === day);
    waiting.push(...arrived);
    const taken = work(day, waiting, rooms, arrived);
    const minutes = [...taken].reduce((sum, item) => sum + item.minutes, 0);
    if (minutes > rooms[day]!)
      throw new Error(`${rule.name} takes ${minutes} of ${rooms[day]} minutes on day ${day}`);
    for (const item of taken) brought += valueOn(item, day);
    waiting = waiting.filter((item) => !taken.has(item) && valueOn(item, day) > leastWorth);
  }
  return brought;
}

export interface Cell {
  readonly days: 'even' | 'meetings';
  readonly load: number;
  /** Share of the bound in percent, by rule. */
  readonly shares: Readonly<Record<string, number>>;
}

/** Another `from` is another five worlds. The whole table: even days and days with meetings, at loads about the capacity. */
export function* simulate(reps = 5, from = 1): Generator<Cell> {
  for (const days of ['even', 'meetings'] as const)
    for (const load of [0.8, 1, 1.2, 1.5]) {
      const sums = new Map<string, number>();
      for (let rep = from; rep < from + reps; rep += 1) {
        const random = randomOf(rep * 31);
        const rooms = Array.from({ length: workDays + ahead + 2 }, (_, day) =>
          days === 'even' ? evenMinutes : day % 10 === 9 ? 0 : Math.round(80 + 240 * random()),
        );
        const capacity = rooms.slice(0, workDays).reduce((sum, room) => sum + room, 0) / workDays;
        const items = worldOf(rep, load, capacity);
        const bound = boundOf(items, rooms);
        for (const rule of rules)
          sums.set(
            rule.name,
            (sums.get(rule.name) ?? 0) + (100 * quarterOf(rule, items, rooms)) / bound / reps,
          );
      }
      yield { days, load, shares: Object.fromEntries(sums) };
    }
}

/** The table as it stands in docs/round-simulation.md. */
export function tableOf(cells: readonly Cell[]): string {
  const names = rules.map(({ name }) => name);
  const line = (words: readonly string[]) => `| ${words.join(' | ')} |`;
  return [
    line(['days', 'load', ...names]),
    line(['---', '---:', ...names.map(() => '---:')]),
    ...cells.map(({ days, load, shares }) =>
      line([days, `${load.toFixed(1)} x`, ...names.map((name) => shares[name]!.toFixed(2))]),
    ),
  ].join('\n');
}
