import fc from 'fast-check';
import { addBusinessDays, differenceInBusinessDays } from 'date-fns';
import {
  addDays,
  addWorkingDays,
  fromDayNumber,
  isWorkingDay,
  onOrBeforeWorkingDay,
  workingDaysBetween,
  type WorkingCalendar,
} from '.';

const week: WorkingCalendar = {
  zone: 'Europe/London',
  weekdays: [1, 2, 3, 4, 5],
  startMinute: 540,
  endMinute: 1050,
  holidays: new Map(),
  place: 'Marrowdale',
};
const withHolidays = (...dates: string[]): WorkingCalendar => ({
  ...week,
  holidays: new Map(dates.map((date) => [date, 'a day off'])),
});
const date = fc.integer({ min: 12_000, max: 25_000 }).map(fromDayNumber);

describe('working days', () => {
  test.each([
    ['a Friday plus one is Monday', '2026-11-27', 1, '2026-11-30'],
    ['a Saturday counts from the next working day', '2026-11-28', 1, '2026-12-01'],
    ['a Saturday plus none is Monday', '2026-11-28', 0, '2026-11-30'],
    ['a Monday less one is Friday', '2026-11-30', -1, '2026-11-27'],
    ['a Saturday less one counts from Monday', '2026-11-28', -1, '2026-11-27'],
  ])('%s', (_, from, n, expected) => {
    expect(addWorkingDays(from, n, week)).toBe(expected);
  });

  test('a holiday does not count', () => {
    expect(addWorkingDays('2026-12-24', 1, withHolidays('2026-12-25', '2026-12-28'))).toBe('2026-12-29');
  });

  test('the span is half-open and negative backwards', () => {
    expect(workingDaysBetween('2026-11-23', '2026-11-30', week)).toBe(5);
    expect(workingDaysBetween('2026-11-30', '2026-11-23', week)).toBe(-5);
    expect(workingDaysBetween('2026-11-30', '2026-11-30', week)).toBe(0);
  });

  test('a calendar without a working day is refused in words', () => {
    expect(() => addWorkingDays('2026-11-23', 1, { ...week, weekdays: [] })).toThrow(
      'no working day within ten years',
    );
  });

  test('a notice that falls on a weekend moves back', () => {
    expect(onOrBeforeWorkingDay('2026-11-29', week)).toBe('2026-11-27');
  });

  test('n days on is n days in between, for any n and any holidays', () => {
    fc.assert(
      fc.property(
        date,
        fc.integer({ min: 0, max: 60 }),
        fc.array(fc.integer({ min: 0, max: 90 }), { maxLength: 12 }),
        (from, n, offs) => {
          const calendar = withHolidays(...offs.map((off) => addDays(from, off)));
          const start = addWorkingDays(from, 0, calendar);
          const end = addWorkingDays(start, n, calendar);
          expect(isWorkingDay(end, calendar)).toBe(true);
          expect(workingDaysBetween(start, end, calendar)).toBe(n);
          expect(addWorkingDays(end, -n, calendar)).toBe(start);
        },
      ),
    );
  });

  test('agrees with a widely used library from any working day', () => {
    fc.assert(
      fc.property(date, fc.integer({ min: -80, max: 80 }), (from, n) => {
        const start = addWorkingDays(from, 0, week);
        const utcDay = (text: string) => new Date(`${text}T12:00:00`);
        const theirs = addBusinessDays(utcDay(start), n);
        const ours = addWorkingDays(start, n, week);
        expect(theirs.toDateString()).toBe(utcDay(ours).toDateString());
        expect(differenceInBusinessDays(utcDay(ours), utcDay(start)) || 0).toBe(n);
      }),
    );
  });
});
