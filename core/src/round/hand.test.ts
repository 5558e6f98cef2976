import fc from 'fast-check';
import {
  drawCutLine,
  placeByHand,
  putByHand,
  rankRound,
  type Candidate,
  type HandPlace,
  type Horizon,
  type RankedRow,
} from '.';
import { addDays } from '../time';

const today = '2026-11-24';
const horizon: Horizon = {
  days: Array.from({ length: 21 }, (_, ahead) => ({ on: addDays(today, ahead), ahead, freeMinutes: 30 })),
  prices: Array.from({ length: 21 }, () => 0),
};
const candidate = (key: string, stakeMinor: number, part: Partial<Candidate> = {}): Candidate => ({
  key,
  kind: 'task',
  group: key,
  channel: 'call',
  stakeMinor,
  minutes: 6,
  decay: { kind: 'half-life', p0: 0.6, behindDays: 0, halfLifeDays: 5, per: 'working' },
  dueOn: today,
  fixedAfterMinutes: null,
  deadlineDay: null,
  reachable: null,
  pinned: false,
  timesMoved: 0,
  ...part,
});
const keys = (rows: readonly RankedRow[]) => rows.map(({ lead }) => lead.key);
const shownOf = (candidates: readonly Candidate[]) => {
  const { above, below } = drawCutLine(rankRound(candidates, horizon), horizon);
  return { above: keys(above), below: keys(below.map(({ row }) => row)) };
};

/** The candidates after a row was put elsewhere. */
function put(
  candidates: readonly Candidate[],
  key: string,
  before: string | null,
  isToday = true,
): readonly Candidate[] {
  const { above, below } = drawCutLine(rankRound(candidates, horizon), horizon);
  const places = putByHand([...above, ...below.map(({ row }) => row)], { key, before, isToday });
  const known = new Map<string, HandPlace>(places!.map(({ key: of, ...place }) => [of, place]));
  return candidates.map((each) => ({ ...each, hand: known.get(each.key) ?? null }));
}
const five = ['a', 'b', 'c', 'd', 'e'].map((key, at) => candidate(key, 50_000 - at * 5_000));

describe('a row that is put elsewhere by hand', () => {
  test('stands there, and the others where they were', () => {
    expect(keys(rankRound(put(five, 'd', 'b'), horizon))).toEqual(['a', 'd', 'b', 'c', 'e']);
    expect(keys(rankRound(put(five, 'a', 'd'), horizon))).toEqual(['b', 'c', 'a', 'd', 'e']);
    expect(keys(rankRound(put(five, 'e', 'a'), horizon))).toEqual(['e', 'a', 'b', 'c', 'd']);
    expect(keys(rankRound(put(five, 'b', null), horizon))).toEqual(['a', 'c', 'd', 'e', 'b']);
  });

  test('stands right below the one it was put below also among rows that are worth the same', () => {
    const equal = ['a', 'b', 'c', 'd'].map((key) => candidate(key, 0));
    expect(keys(rankRound(put(equal, 'd', 'b'), horizon))).toEqual(['a', 'd', 'b', 'c']);
    expect(keys(rankRound(put(equal, 'a', 'd'), horizon))).toEqual(['b', 'c', 'a', 'd']);
  });

  test('new rows come in around it by what they are worth', () => {
    const placed = [...put(five, 'e', 'b'), candidate('dear', 90_000), candidate('cheap', 20_000)];
    expect(keys(rankRound(placed, horizon))).toEqual(['dear', 'a', 'e', 'b', 'c', 'd', 'cheap']);
  });

  test('stays in its place when the rows around it are done', () => {
    const placed = put(five, 'e', 'b').filter(({ key }) => key !== 'a' && key !== 'b');
    expect(keys(rankRound(placed, horizon))).toEqual(['e', 'c', 'd']);
  });

  test('put above the line its minutes count, and the last of the others give way', () => {
    const six = [...five, candidate('f', 1_000)];
    expect(shownOf(six)).toEqual({ above: ['a', 'b', 'c', 'd', 'e'], below: ['f'] });
    expect(shownOf(put(six, 'f', 'b'))).toEqual({ above: ['a', 'f', 'b', 'c', 'd'], below: ['e'] });
  });

  test('put below the line it stays there, also when there would be room', () => {
    expect(shownOf(put(five, 'a', null, false))).toEqual({ above: ['b', 'c', 'd', 'e'], below: ['a'] });
  });

  test('one row of several reasons keeps its place when another of them leads it', () => {
    const placed = [...put(five, 'e', 'a'), candidate('reply', 80_000, { kind: 'reply', group: 'e' })];
    expect(keys(rankRound(placed, horizon))).toEqual(['reply', 'a', 'b', 'c', 'd']);
  });

  test('a pin and a time are stronger than a place', () => {
    const placed = put(five, 'e', 'a').map((each) =>
      each.key === 'd'
        ? { ...each, pinned: true }
        : each.key === 'c'
          ? { ...each, fixedAfterMinutes: 0 }
          : each,
    );
    expect(keys(rankRound(placed, horizon))).toEqual(['d', 'c', 'e', 'a', 'b']);
  });

  test('a row that is not there, or is to stand before one that is not, has no place', () => {
    const rows = rankRound(five, horizon);
    expect(putByHand(rows, { key: 'x', before: 'a', isToday: true })).toBeNull();
    expect(putByHand(rows, { key: 'a', before: 'x', isToday: true })).toBeNull();
    expect(putByHand(rows, { key: 'a', before: null, isToday: true })).toHaveLength(1);
  });
});

describe('the order of the hand', () => {
  const stakes = fc.array(fc.integer({ min: 0, max: 100_000 }), { minLength: 3, maxLength: 14 });
  const named = (list: readonly number[], prefix = 't') =>
    list.map((stake, at) => candidate(`${prefix}${String(at).padStart(2, '0')}`, stake));
  const moves = fc.array(fc.record({ from: fc.nat(), to: fc.nat() }), { minLength: 1, maxLength: 6 });
  const isToday = true;

  test('is what is shown: a row stands right before the one it was put before', () => {
    fc.assert(
      fc.property(stakes, moves, (list, hand) => {
        let all: readonly Candidate[] = named(list);
        for (const { from, to } of hand) {
          const shown = keys(rankRound(all, horizon));
          const key = shown[from % shown.length]!;
          const rest = shown.filter((each) => each !== key);
          const before = rest[to % (rest.length + 1)] ?? null;
          const places = putByHand(rankRound(all, horizon), { key, before, isToday })!;
          const known = new Map<string, HandPlace>(places.map(({ key: of, ...place }) => [of, place]));
          all = all.map((each) => ({ ...each, hand: known.get(each.key) ?? null }));
          const at = before === null ? rest.length : rest.indexOf(before);
          expect(keys(rankRound(all, horizon))).toEqual([...rest.slice(0, at), key, ...rest.slice(at)]);
        }
      }),
    );
  });

  test('survives whatever becomes of the others, and of their values', () => {
    fc.assert(
      fc.property(
        stakes,
        moves,
        stakes,
        stakes,
        fc.array(fc.boolean()),
        (list, hand, values, fresh, gone) => {
          let all: readonly Candidate[] = named(list);
          for (const { from, to } of hand) {
            const shown = keys(rankRound(all, horizon));
            const key = shown[from % shown.length]!;
            const rest = shown.filter((each) => each !== key);
            const places = putByHand(rankRound(all, horizon), {
              key,
              before: rest[to % (rest.length + 1)] ?? null,
              isToday,
            })!;
            const known = new Map<string, HandPlace>(places.map(({ key: of, ...place }) => [of, place]));
            all = all.map((each) => ({ ...each, hand: known.get(each.key) ?? null }));
          }
          const byHand = keys(rankRound(all, horizon)).filter((key) =>
            all.some((each) => each.key === key && each.hand),
          );
          const later = [
            ...all
              .filter((_, at) => gone[at] !== true)
              .map((each, at) => ({ ...each, stakeMinor: values[at % values.length]! })),
            ...named(fresh, 'new'),
          ];
          const left = byHand.filter((key) => later.some((each) => each.key === key));
          expect(keys(rankRound(later, horizon)).filter((key) => left.includes(key))).toEqual(left);
          const { above, below } = shownOf(later);
          expect([...above, ...below].filter((key) => left.includes(key))).toEqual(left);
          // No row gets lost or doubled on the way.
          expect([...above, ...below].sort()).toEqual(later.map(({ key }) => key).sort());
        },
      ),
    );
  });

  test('does not depend on the order in which rows come', () => {
    const placed = put(put(five, 'e', 'b'), 'a', 'd');
    const rows = rankRound(placed, horizon);
    const [byHand, others] = [rows.filter(({ lead }) => lead.hand), rows.filter(({ lead }) => !lead.hand)];
    expect(keys(placeByHand(others, [...byHand].reverse()))).toEqual(keys(rows));
  });
});
