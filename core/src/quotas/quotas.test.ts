import * as fc from 'fast-check';
import { addMonths } from '../time/index';
import { monthsToSet, quotaIn, type SetMonth } from './index';

const months = Array.from({ length: 12 }, (_, n) => addMonths('2026-01-01', n));

test('what was set holds until another month has one, and can end', () => {
  const set = [
    { month: '2026-06-01', minor: null },
    { month: '2026-01-01', minor: 900 },
    { month: '2026-03-01', minor: 1200 },
  ];
  expect(months.slice(0, 7).map((month) => quotaIn(set, month))).toEqual([
    ...[900, 900, 1200, 1200, 1200, null, null],
  ]);
  expect(quotaIn(set, '2025-12-01')).toBeNull();
  expect(quotaIn([], '2026-01-01')).toBeNull();
});

test('one month alone leaves the months after it as they were', () => {
  const set = [{ month: '2026-01-01', minor: 900 }];
  expect(monthsToSet(set, { month: '2026-12-01', minor: 1200 }, 'month')).toEqual([
    { month: '2026-12-01', minor: 1200 },
    { month: '2027-01-01', minor: 900 },
  ]);
  expect(monthsToSet(set, { month: '2026-12-01', minor: 1200 }, 'on')).toHaveLength(1);
});

const someSet = fc
  .uniqueArray(fc.tuple(fc.nat(11), fc.option(fc.nat(5))), { selector: ([month]) => month, maxLength: 8 })
  .map((rows): SetMonth[] => rows.map(([at, minor]) => ({ month: months[at]!, minor })));
const written = (set: readonly SetMonth[], rows: readonly SetMonth[]) => [
  ...set.filter(({ month }) => !rows.some((row) => row.month === month)),
  ...rows,
];

test('setting one month changes that month and no other; from it on, none before it and none after another that was set', () => {
  fc.assert(
    fc.property(someSet, fc.nat(11), fc.option(fc.nat(5)), (set, at, minor) => {
      const month = months[at]!;
      const alone = written(set, monthsToSet(set, { month, minor }, 'month'));
      const on = written(set, monthsToSet(set, { month, minor }, 'on'));
      const later = set.map((each) => each.month).filter((each) => each > month);
      const until = later.length === 0 ? '2199-01-01' : later.sort()[0]!;
      for (const each of [...months, '2027-01-01']) {
        expect(quotaIn(alone, each)).toBe(each === month ? minor : quotaIn(set, each));
        expect(quotaIn(on, each)).toBe(each >= month && each < until ? minor : quotaIn(set, each));
      }
    }),
  );
});
