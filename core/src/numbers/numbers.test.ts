import fc from 'fast-check';
import { reportPeriods } from '@kettle/contract/numbers/kinds';
import { addDays, daysBetween } from '../time';
import {
  daysInStages,
  halfFigure,
  meanFigure,
  middleFigure,
  periodBefore,
  periodOn,
  reportAddress,
  sayFigure,
  shareFigure,
  velocity,
  withinFigure,
} from '.';

const today = '2026-11-24';

describe('periods', () => {
  test.each([
    ['this-month', '2026-11-01', '2026-11-30', today, '2026-10-01', '2026-10-24'],
    ['last-month', '2026-10-01', '2026-10-31', '2026-10-31', '2026-09-01', '2026-09-30'],
    ['this-quarter', '2026-10-01', '2026-12-31', today, '2026-07-01', '2026-08-24'],
    ['last-quarter', '2026-07-01', '2026-09-30', '2026-09-30', '2026-04-01', '2026-06-30'],
    ['this-year', '2026-01-01', '2026-12-31', today, '2025-01-01', '2025-11-24'],
    ['last-year', '2025-01-01', '2025-12-31', '2025-12-31', '2024-01-01', '2024-12-31'],
    ['last-7-days', '2026-11-18', today, today, '2026-11-11', '2026-11-17'],
    ['last-30-days', '2026-10-26', today, today, '2026-09-26', '2026-10-25'],
    ['last-12-months', '2025-11-25', today, today, '2024-11-25', '2025-11-24'],
  ] as const)('%s', (period, from, to, until, before, beforeTo) => {
    const found = periodOn({ period }, today);
    expect(found).toMatchObject({ from, to, until });
    expect(periodBefore(found)).toEqual({ from: before, to: beforeTo });
  });
  test('the last day of March beside the last of February', () => {
    expect(periodBefore(periodOn({ period: 'this-month' }, '2026-03-30'))).toEqual({
      from: '2026-02-01',
      to: '2026-02-28',
    });
  });
  test('from day to day, as far as it has come', () => {
    const found = periodOn({ period: 'days', from: '2026-11-20', to: '2026-11-29' }, today);
    expect(found.until).toBe(today);
    expect(periodBefore(found)).toEqual({ from: '2026-11-10', to: '2026-11-14' });
    expect(() => periodOn({ period: 'days', from: '2026-11-20' }, today)).toThrow('has both');
  });
  test('the one before ends before this begins, and is not longer', () => {
    const day = fc.integer({ min: 0, max: 4000 }).map((days) => addDays('2020-01-01', days));
    fc.assert(
      fc.property(day, fc.constantFrom(...reportPeriods.filter((each) => each !== 'days')), (on, period) => {
        const found = periodOn({ period }, on);
        const before = periodBefore(found);
        expect(before.to < found.from).toBe(true);
        expect(before.from <= before.to).toBe(true);
        expect(daysBetween(before.from, before.to)).toBeLessThanOrEqual(
          daysBetween(found.from, found.to) + 3,
        );
        expect(found.until <= found.to && found.until <= on).toBe(true);
      }),
    );
  });
});

describe('figures', () => {
  test('of no case nothing is known', () => {
    for (const found of [
      shareFigure(0, 0),
      halfFigure([]),
      meanFigure([]),
      middleFigure([]),
      withinFigure([], 30),
    ])
      expect(found.value).toBeNull();
  });
  test('what still waits makes the half longer than the mean of those that went on', () => {
    const cases = [
      { time: 5, happened: true, count: 4 },
      { time: 10, happened: true, count: 1 },
      { time: 40, happened: false, count: 5 },
    ];
    expect(meanFigure(cases).value).toBe(6);
    expect(halfFigure(cases).value).toBe(10);
  });
  test('the middle of an even number is between the two', () => {
    expect(
      middleFigure([
        { time: -3, happened: true, count: 2 },
        { time: 4, happened: true, count: 2 },
      ]).value,
    ).toBe(0.5);
    expect(
      middleFigure([
        { time: -3, happened: true, count: 2 },
        { time: 4, happened: true },
      ]).value,
    ).toBe(-3);
  });
  test('the middle is that of the list written out', () => {
    const counted = fc.array(
      fc.record({ time: fc.integer({ min: -60, max: 60 }), count: fc.integer({ min: 1, max: 5 }) }),
      {
        minLength: 1,
      },
    );
    fc.assert(
      fc.property(counted, (cases) => {
        const all = cases.flatMap(({ time, count }) => Array<number>(count).fill(time)).sort((a, b) => a - b);
        const expected = (all[Math.floor((all.length - 1) / 2)]! + all[Math.floor(all.length / 2)]!) / 2;
        expect(middleFigure(cases.map((each) => ({ ...each, happened: true }))).value).toBe(expected);
      }),
    );
  });
  test('what deals bring in a day; not known without one of its parts', () => {
    const parts = { deals: 40, winRate: 0.25, meanMinor: 500_000, days: 50 };
    expect(velocity(parts)).toBe(100_000);
    expect(velocity({ ...parts, days: null })).toBeNull();
    expect(velocity({ ...parts, days: 0 })).toBeNull();
  });
});

test('days in each stage within a period; a stage passed through in hours is not one of them', () => {
  const stay = (stage: string, enteredAt: string, leftAt: string | null) => ({
    ...{ stage, enteredAt: `${enteredAt}:00:00.000Z` },
    leftAt: leftAt === null ? null : `${leftAt}:00:00.000Z`,
  });
  const stays = [
    stay('Survey', '2026-10-20T09', '2026-11-03T00'),
    stay('Sample', '2026-11-03T00', '2026-11-03T05'),
    stay('Offer', '2026-11-03T05', '2026-11-10T05'),
    stay('Survey', '2026-11-10T05', null),
  ];
  expect(daysInStages(stays, '2026-11-01T00:00:00.000Z', '2026-11-15T05:00:00.000Z')).toEqual([
    { stage: 'Survey', days: 7 },
    { stage: 'Offer', days: 7 },
  ]);
});

test('figures in words, and a dash where nothing is known', () => {
  expect(sayFigure({ value: null }, 'money', 'GBP')).toBe('–');
  expect(sayFigure({ value: 120_000 }, 'money', 'GBP')).toBe('£1,200');
  expect(sayFigure({ value: 0.305 }, 'share', 'GBP')).toBe('31 %');
  expect(sayFigure({ value: 7.25 }, 'days', 'GBP')).toBe('7.3');
  expect(sayFigure({ value: 1200 }, 'count', 'GBP')).toBe('1,200');
});

test('the same question has the same address, without what is usual', () => {
  const asked = { kind: 'lost', period: 'this-quarter', whose: 'mine' } as const;
  expect(reportAddress(asked)).toBe('part=lost');
  expect(reportAddress({ ...asked, from: '2026-11-01', to: '2026-11-02', by: 'reason' })).toBe(
    'part=lost&by=reason',
  );
  expect(
    reportAddress({ ...asked, period: 'days', from: '2026-11-01', to: '2026-11-02', whose: 'team' }),
  ).toBe('part=lost&period=days&from=2026-11-01&to=2026-11-02&whose=team');
});
