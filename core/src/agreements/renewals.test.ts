import fc from 'fast-check';
import { calendarOf } from '../../testing/calendars';
import { addMonths, isWorkingDay } from '../time';
import { termDates, yearlyValueMinor } from '.';

const term = { startsOn: '2026-01-31', termMonths: 1, noticeDays: 10, leadDays: 30 };

test('terms are anchored to the first start: 31 January gives 28 February and 31 March', () => {
  expect(termDates(term, 0, calendarOf()).endsOn).toBe('2026-02-28');
  expect(termDates(term, 1, calendarOf()).endsOn).toBe('2026-03-31');
});

test('a notice deadline on a weekend or holiday moves back, and the lead day with it', () => {
  // 2026-12-26 less 30 days is Thursday 26 November; a holiday there moves it to Wednesday.
  const dates = termDates(
    { startsOn: '2025-12-26', termMonths: 12, noticeDays: 30, leadDays: 5 },
    0,
    calendarOf({}, ['2026-11-26', 'off']),
  );
  expect(dates).toEqual({ endsOn: '2026-12-26', noticeDeadlineOn: '2026-11-25', leadOn: '2026-11-20' });
});

test('the notice deadline is always a working day, never after the days of notice', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 0, max: 3000 }),
      fc.integer({ min: 1, max: 60 }),
      fc.integer({ min: 0, max: 120 }),
      fc.integer({ min: 0, max: 8 }),
      (day, termMonths, noticeDays, n) => {
        const startsOn = new Date(Date.UTC(2020, 0, 1 + day)).toISOString().slice(0, 10);
        const dates = termDates({ startsOn, termMonths, noticeDays, leadDays: 30 }, n, calendarOf());
        expect(dates.endsOn).toBe(addMonths(startsOn, termMonths * (n + 1)));
        expect(isWorkingDay(dates.noticeDeadlineOn, calendarOf())).toBe(true);
        expect(dates.noticeDeadlineOn <= dates.endsOn).toBe(true);
      },
    ),
  );
});

test('the yearly value of a term', () => {
  expect(yearlyValueMinor(360_000, 36)).toBe(120_000);
  expect(yearlyValueMinor(100, 7)).toBe(171);
});
