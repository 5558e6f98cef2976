import fc from 'fast-check';
import { closeInColumn, columnOf, foldCell, laneColumns, layLanes, totalsOf, type LaneDeal } from './lanes';

const today = '2026-11-24';
const columns = laneColumns(today, 5);
const dealOf = (part: Partial<LaneDeal> = {}): LaneDeal => ({
  id: 'a',
  stageId: 'survey',
  homeMinor: 100,
  weightedMinor: 25,
  expectedCloseOn: '2026-12-10',
  nextStepOn: '2026-11-26',
  ...part,
});

test('the axis runs over the end of a year', () => {
  expect(columns.map((column) => (column.kind === 'month' ? column.month : column.kind))).toEqual([
    'overdue',
    '2026-11',
    '2026-12',
    '2027-01',
    '2027-02',
    '2027-03',
    'later',
  ]);
});

test.each([
  ['2026-11-23', 0],
  ['2026-11-24', 1],
  ['2026-11-30', 1],
  ['2026-12-01', 2],
  ['2027-03-31', 5],
  ['2027-04-01', 6],
  [null, 6],
])('a close on %s stands in column %i', (on, column) => {
  expect(columnOf(on, columns, today)).toBe(column);
});

test('inside a month the next step orders, loose ones last, then the greater', () => {
  const deals = [
    dealOf({ id: 'loose', nextStepOn: null }),
    dealOf({ id: 'later', nextStepOn: '2026-12-01' }),
    dealOf({ id: 'small' }),
    dealOf({ id: 'great', homeMinor: 900 }),
  ];
  const [lane] = layLanes(deals, ['survey'], columns, today);
  expect(lane!.cells[2]!.map(({ id }) => id)).toEqual(['great', 'small', 'later', 'loose']);
});

test.each([
  ['2026-12', '2026-11-30', '2026-12-30'],
  ['2027-02', '2026-12-31', '2027-02-28'],
  ['2026-11', '2026-12-10', '2026-11-24'],
  ['2027-01', null, '2027-01-31'],
])('moved to %s from %s it closes on %s', (month, from, to) => {
  expect(closeInColumn({ kind: 'month', month }, from, today)).toEqual({ on: to });
});

test('beyond the axis there is no date, and nothing is moved into the past', () => {
  expect(closeInColumn({ kind: 'later' }, '2026-12-10', today)).toEqual({ on: null });
  expect(closeInColumn({ kind: 'overdue' }, '2026-12-10', today)).toBeNull();
});

const someDeal = fc.record({
  id: fc.uuid(),
  stageId: fc.constantFrom('a', 'b', 'c'),
  homeMinor: fc.integer({ min: 0, max: 100_000_000 }),
  weightedMinor: fc.integer({ min: 0, max: 100_000_000 }),
  expectedCloseOn: fc.option(
    fc.constantFrom('2026-11-01', '2026-11-24', '2026-12-31', '2027-01-15', '2028-01-01'),
  ),
  nextStepOn: fc.option(fc.constantFrom('2026-11-20', '2026-11-24', '2026-12-01')),
});
const someMove = fc.record({
  at: fc.nat(60),
  stageId: fc.constantFrom('a', 'b', 'c'),
  column: fc.integer({ min: 0, max: 6 }),
});

test('lanes hold every deal once, and their totals are those of the deals to the penny, after any moves', () => {
  fc.assert(
    fc.property(
      fc.array(someDeal, { maxLength: 40 }),
      fc.array(someMove, { maxLength: 20 }),
      (made, moves) => {
        let deals: LaneDeal[] = made;
        for (const { at, stageId, column } of moves)
          deals = deals.map((deal, index) => {
            if (index !== at) return deal;
            const close = closeInColumn(columns[column]!, deal.expectedCloseOn, today);
            return { ...deal, stageId, expectedCloseOn: close === null ? deal.expectedCloseOn : close.on };
          });
        const lanes = layLanes(deals, ['a', 'b', 'c'], columns, today);
        const placed = lanes.flatMap((lane) => lane.cells.flat());
        expect(placed.map(({ id }) => id).sort()).toEqual(deals.map(({ id }) => id).sort());
        const sum = (of: 'count' | 'totalMinor' | 'weightedMinor') =>
          lanes.reduce((total, lane) => total + lane.totals[of], 0);
        const all = totalsOf(deals);
        expect([sum('count'), sum('totalMinor'), sum('weightedMinor')]).toEqual([
          all.count,
          all.totalMinor,
          all.weightedMinor,
        ]);
      },
    ),
  );
});

test('a moved deal stands in the column it was moved to', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 6 }),
      fc.option(fc.constantFrom('2026-11-01', '2026-12-31')),
      (column, from) => {
        const close = closeInColumn(columns[column]!, from, today)!;
        expect(columnOf(close.on, columns, today)).toBe(column);
      },
    ),
  );
});

describe('a cell with many deals', () => {
  test.each([
    [[1, 2, 3], 5, [1, 2, 3], []],
    [[1, 2, 3, 4, 5, 6], 5, [1, 2, 3, 4, 5, 6], []],
    [[1, 2, 3, 4, 5, 6, 7], 5, [1, 2, 3, 4, 5], [6, 7]],
    [[], 5, [], []],
  ])('%j at most %d shows %j and folds %j', (deals, most, shown, folded) => {
    expect(foldCell(deals, most, () => false)).toEqual({ shown, folded });
  });

  test('loses none, keeps the order, hides none that must show, and never folds a single one', () => {
    const cell = fc.uniqueArray(fc.nat(999), { maxLength: 40 });
    fc.assert(
      fc.property(
        cell,
        fc.integer({ min: 1, max: 12 }),
        fc.integer({ min: 2, max: 9 }),
        (deals, most, every) => {
          const must = (deal: number) => deal % every === 0;
          const { shown, folded } = foldCell(deals, most, must);
          expect([...shown, ...folded].sort()).toEqual([...deals].sort());
          for (const part of [shown, folded]) {
            const places = part.map((deal) => deals.indexOf(deal));
            expect(places).toEqual([...places].sort((a, b) => a - b));
          }
          expect(folded.some(must)).toBe(false);
          expect(folded).not.toHaveLength(1);
          expect(shown.length).toBeGreaterThanOrEqual(Math.min(most, deals.length));
        },
      ),
    );
  });
});
