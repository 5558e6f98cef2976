import fc from 'fast-check';
import { besideEachOther, hoursShown, layOutDay, weeksOfMonth } from '.';

const timed = (startsAt: string, endsAt: string, travelMinutes = 0, travelAfterMinutes = 0) => ({
  ...{ startsAt: `2026-${startsAt}:00.000Z`, endsAt: `2026-${endsAt}:00.000Z` },
  ...{ travelMinutes, travelAfterMinutes },
});

test('what meets stands side by side, what only touches does not', () => {
  const [nine, ten, eleven, later] = [
    { from: 540, to: 660 },
    { from: 600, to: 720 },
    { from: 660, to: 780 },
    { from: 780, to: 800 },
  ] as const;
  const beside = besideEachOther([later, eleven, nine, ten]);
  expect([nine, ten, eleven, later].map((each) => beside.get(each))).toEqual([
    { column: 0, columns: 2 },
    { column: 1, columns: 2 },
    { column: 0, columns: 2 },
    { column: 0, columns: 1 },
  ]);
});

test('no two stretches overlap in a column, and there are as many columns as lie over one another', () => {
  const stretch = fc
    .tuple(fc.integer({ min: 0, max: 200 }), fc.integer({ min: 1, max: 60 }))
    .map(([from, length]) => ({ from, to: from + length }));
  fc.assert(
    fc.property(fc.array(stretch, { maxLength: 14 }), (all) => {
      const beside = besideEachOther(all);
      for (const one of all)
        for (const other of all) {
          const isMet = one !== other && one.from < other.to && other.from < one.to;
          if (!isMet) continue;
          expect(beside.get(one)!.column).not.toBe(beside.get(other)!.column);
          expect(beside.get(one)!.columns).toBe(beside.get(other)!.columns);
        }
      const densest = Math.max(
        0,
        ...all.map(({ from }) => all.filter((each) => each.from <= from && from < each.to).length),
      );
      expect(Math.max(0, ...all.map((each) => beside.get(each)!.columns))).toBe(densest);
    }),
  );
});

test('an entry stands in every day it touches, with its way, cut at midnight', () => {
  const night = timed('11-24T22:00', '11-25T01:30', 30, 15);
  const drawn = (on: string) => layOutDay([night], on, 'Europe/London').map(({ entry: _, ...rest }) => rest);
  expect(drawn('2026-11-24')).toEqual([
    {
      from: 1320,
      to: 1440,
      wayFrom: 1290,
      wayTo: 1440,
      isBefore: false,
      isAfter: true,
      column: 0,
      columns: 1,
    },
  ]);
  expect(drawn('2026-11-25')).toEqual([
    { from: 0, to: 90, wayFrom: 0, wayTo: 105, isBefore: true, isAfter: false, column: 0, columns: 1 },
  ]);
  expect(drawn('2026-11-26')).toEqual([]);
});

test('times stand where the clock shows them, also on the days the clocks change', () => {
  // 25 October 2026: 01:30 comes twice in London, and 10:00 is 10:00 UTC.
  const [first, again, ten] = layOutDay(
    [
      timed('10-25T00:30', '10-25T00:50'),
      timed('10-25T01:30', '10-25T01:50'),
      timed('10-25T10:00', '10-25T11:00'),
    ],
    '2026-10-25',
    'Europe/London',
  );
  expect([first!.from, again!.from, ten!.from, ten!.to]).toEqual([90, 90, 600, 660]);
  expect([first!.columns, ten!.columns]).toEqual([2, 1]);
  // 29 March 2026: from 01:00 to 02:00 there is nothing; 09:00 UTC is ten.
  const [summer] = layOutDay([timed('03-29T09:00', '03-29T09:30')], '2026-03-29', 'Europe/London');
  expect(summer).toMatchObject({ from: 600, to: 630 });
});

test('a short one takes the room its title needs, also at the end of the day', () => {
  const [short] = layOutDay([timed('11-24T10:00', '11-24T10:05')], '2026-11-24', 'UTC');
  expect([short!.from, short!.to]).toEqual([600, 620]);
  const [late] = layOutDay([timed('11-24T23:55', '11-24T23:59')], '2026-11-24', 'UTC');
  expect([late!.from, late!.to]).toEqual([1420, 1440]);
});

test('the hours shown are those of work and of what lies outside them', () => {
  const hours = { start: 540, end: 1050 };
  expect(hoursShown(hours, [])).toEqual({ from: 8, to: 19 });
  expect(hoursShown(hours, [{ wayFrom: 375, wayTo: 1260 }])).toEqual({ from: 6, to: 21 });
  expect(hoursShown({ start: 0, end: 1440 }, [])).toEqual({ from: 0, to: 24 });
});

test('a month is whole weeks from the day the reader’s week begins on', () => {
  expect(weeksOfMonth('2026-02-14', 1)).toEqual({ from: '2026-01-26', days: 35 });
  expect(weeksOfMonth('2026-02-14', 7)).toEqual({ from: '2026-02-01', days: 28 });
  expect(weeksOfMonth('2026-08-31', 1)).toEqual({ from: '2026-07-27', days: 42 });
});
