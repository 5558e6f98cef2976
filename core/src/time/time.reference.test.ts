/**
 * Outside values. ISO 8601 week dates: examples of the standard as published widely (2005-01-01 and 2008-12-29).
 * Working days: the worked examples that spreadsheet documentation gives for NETWORKDAYS and WORKDAY. Easter and
 * holidays: computed here by the anonymous Gregorian algorithm (Nature, 20 April 1876) and compared with date-holidays.
 * Clock changes: the transition table of the IANA database as moment-timezone carries it.
 */
import Holidays from 'date-holidays';
import fc from 'fast-check';
import moment from 'moment-timezone';
import {
  addDays,
  addMonths,
  addWorkingDays,
  fromDayNumber,
  isoWeek,
  localDate,
  localDatesOf,
  localMinute,
  localMoment,
  workingDaysBetween,
  type WorkingCalendar,
} from '.';

const calendar = (...holidays: string[]): WorkingCalendar => ({
  zone: 'UTC',
  weekdays: [1, 2, 3, 4, 5],
  startMinute: 540,
  endMinute: 1020,
  holidays: new Map(holidays.map((day) => [day, 'holiday'])),
  place: 'the example',
});

describe('ISO 8601 weeks', () => {
  test.each([
    ['2005-01-01', 2004, 53, 6],
    ['2008-12-29', 2009, 1, 1],
    ['2005-01-02', 2004, 53, 7],
    ['2007-01-01', 2007, 1, 1],
    ['2010-01-03', 2009, 53, 7],
  ])('%s is week %i-W%i-%i', (date, year, week, weekday) => {
    expect(isoWeek(date)).toEqual({ year, week, weekday });
  });
});

describe('the spreadsheet examples', () => {
  const inclusive = (from: string, to: string, ...holidays: string[]) =>
    workingDaysBetween(from, addDays(to, 1), calendar(...holidays));

  test('NETWORKDAYS 1 Oct 2012 to 1 Mar 2013: 110, with one holiday 109, with three 107', () => {
    expect(inclusive('2012-10-01', '2013-03-01')).toBe(110);
    expect(inclusive('2012-10-01', '2013-03-01', '2012-11-22')).toBe(109);
    expect(inclusive('2012-10-01', '2013-03-01', '2012-11-22', '2012-12-04', '2013-01-21')).toBe(107);
  });

  test('WORKDAY 1 Oct 2008 plus 151: 30 Apr 2009, with three holidays 5 May 2009', () => {
    expect(addWorkingDays('2008-10-01', 151, calendar())).toBe('2009-04-30');
    expect(addWorkingDays('2008-10-01', 151, calendar('2008-11-26', '2008-12-04', '2009-01-21'))).toBe(
      '2009-05-05',
    );
  });
});

describe('months', () => {
  test.each([
    ['2027-01-31', 1, '2027-02-28'],
    ['2028-01-31', 1, '2028-02-29'],
    ['2027-01-31', 2, '2027-03-31'],
    ['2027-03-31', -1, '2027-02-28'],
    ['2026-12-15', 13, '2028-01-15'],
  ])('%s and %i months is %s', (anchor, months, expected) => {
    expect(addMonths(anchor, months)).toBe(expected);
  });
});

describe('Easter Monday in a dozen countries', () => {
  test.each(['IE', 'NL', 'DE', 'FR', 'AT', 'BE', 'CH', 'DK', 'SE', 'NO', 'IT', 'PL'])(
    '%s keeps it where the algorithm puts it, 2024 to 2032',
    (country) => {
      const source = new Holidays(country);
      for (let year = 2024; year <= 2032; year += 1) {
        const days = source.getHolidays(year).map((day) => day.date.slice(0, 10));
        expect(days).toContain(addDays(easterSunday(year), 1));
      }
    },
  );
});

/** Anonymous Gregorian algorithm. */
function easterSunday(year: number): string {
  const a = year % 19;
  const b = Math.floor(year / 100);
  const c = year % 100;
  const g = Math.floor((8 * b + 13) / 25);
  const h = (19 * a + b - Math.floor(b / 4) - g + 15) % 30;
  const l = (32 + 2 * (b % 4) + 2 * Math.floor(c / 4) - h - (c % 4)) % 7;
  const m = Math.floor((a + 11 * h + 19 * l) / 433);
  const month = Math.floor((h + l - 7 * m + 90) / 25);
  const day = (h + l - 7 * m + 33 * month + 19) % 32;
  return `${year}-${String(month).padStart(2, '0')}-${String(day).padStart(2, '0')}`;
}

describe('clock changes', () => {
  const zones = [
    'Europe/London',
    'Europe/Lisbon',
    'Europe/Amsterdam',
    'America/New_York',
    'Australia/Lord_Howe',
    'America/St_Johns',
  ];

  test.each(zones)(
    '%s: ten in the morning stays ten in the morning across every change, 2024 to 2030',
    (zone) => {
      for (const at of changesOf(zone)) {
        const date = localDate(new Date(at).toISOString(), zone);
        for (const shift of [-1, 0, 1]) {
          const day = addDays(date, shift);
          const ours = localMoment(day, 600, zone);
          expect(ours).toBe(moment.tz(`${day}T10:00`, zone).toISOString());
          expect(localMinute(ours, zone)).toBe(600);
        }
      }
    },
  );

  test.each(zones)('%s: a time in the gap moves forward by the gap, a doubled one is the first', (zone) => {
    for (const at of changesOf(zone)) {
      const before = moment.tz(at - 60_000, zone).utcOffset();
      const change = moment.tz(at, zone).utcOffset() - before;
      // The wall clock before the change, carried on to a quarter of an hour inside the gap or the doubled time.
      const wall = moment.utc(at + before * 60_000 + (change > 0 ? 15 : change + 15) * 60_000);
      const ours = Date.parse(
        localMoment(wall.format('YYYY-MM-DD'), wall.hours() * 60 + wall.minutes(), zone),
      );
      expect(ours).toBe(at + (change > 0 ? 15 : change + 15) * 60_000);
    }
  });
});

/** A day's clock in every zone, from the IANA database as moment-timezone carries it. */
describe('zones', () => {
  const minutes = [0, 30, 150, 210, 600, 1410];
  const quarter = 15 * 60_000;

  /** Every quarter of an hour of two days is tried: the first that shows the clock, else what the offset before the gap makes of it. */
  const byTrying = (day: string, minute: number, zone: string): string => {
    const wall = Date.parse(`${day}T00:00:00.000Z`) + minute * 60_000;
    const offset = (at: number) => -moment.tz.zone(zone)!.utcOffset(at) * 60_000;
    let before = 0;
    for (let at = wall - 108 * quarter; at <= wall + 108 * quarter; at += quarter) {
      if (at + offset(at) === wall) return new Date(at).toISOString();
      if (at + offset(at) < wall) before = offset(at);
    }
    return new Date(wall - before).toISOString();
  };
  const sameAsMoment = (day: string, zone: string) => {
    for (const minute of minutes) {
      const ours = localMoment(day, minute, zone);
      expect([zone, day, minute, ours]).toEqual([zone, day, minute, byTrying(day, minute, zone)]);
      const theirs = moment.tz(ours, zone).format('YYYY-MM-DD');
      expect([localDate(ours, zone), localDatesOf(zone)(ours)]).toEqual([theirs, theirs]);
    }
  };

  const hour = 60 * 60_000;
  const runtimeOffsets = new Map<string, Intl.DateTimeFormat>();
  /** What the runtime's own database says, without our code. */
  const runtimeOffset = (at: number, zone: string): number => {
    const format =
      runtimeOffsets.get(zone) ??
      new Intl.DateTimeFormat('en-GB', { timeZone: zone, timeZoneName: 'longOffset' });
    runtimeOffsets.set(zone, format);
    const name = format.formatToParts(at).find(({ type }) => type === 'timeZoneName')!.value;
    const [, sign, hours, minutes = '0'] = /GMT(?:([+-])(\d\d):(\d\d))?/.exec(name)!;
    return (sign === '-' ? -1 : 1) * (Number(hours ?? 0) * 60 + Number(minutes));
  };
  /**
   * Runtime and reference carry the database of different months: Moldova's changes since 2022 were only put right in 2026. Where they
   * differ about the hours around a day, there is nothing to hold our reckoning against.
   */
  const areOfOneMind = (day: string, zone: string): boolean => {
    const noon = Date.parse(`${day}T12:00:00.000Z`);
    return Array.from({ length: 80 }, (_, n) => noon + (n - 40) * hour).every(
      (at) => runtimeOffset(at, zone) === -moment.tz.zone(zone)!.utcOffset(at),
    );
  };

  test('a zone about which the two databases differ is known as such, and others are not', () => {
    expect(areOfOneMind('2026-07-01', 'Europe/London')).toBe(true);
    expect(areOfOneMind('2026-03-29', 'Europe/London')).toBe(true);
    expect(areOfOneMind('2021-03-28', 'Europe/Chisinau')).toBe(true);
    // Whichever of the two is newer: both changed their clocks on that day.
    expect(runtimeOffset(Date.UTC(2022, 2, 26), 'Europe/Chisinau')).toBe(120);
    expect(runtimeOffset(Date.UTC(2022, 2, 28), 'Europe/Chisinau')).toBe(180);
  });

  test('Samoa: summer time that began at midnight in 2010, and no 30 December 2011', () => {
    for (const first of ['2010-09-25', '2011-04-01', '2011-09-23', '2011-12-29', '2012-03-31'])
      for (const after of [0, 1, 2]) sameAsMoment(addDays(first, after), 'Pacific/Apia');
    expect(localMoment('2010-09-26', 600, 'Pacific/Apia')).toBe('2010-09-26T20:00:00.000Z');
    expect(localMoment('2011-12-30', 600, 'Pacific/Apia')).toBe('2011-12-30T20:00:00.000Z');
  });

  test('every zone that the runtime knows, on days of thirty years and around its changes', () => {
    const zones = Intl.supportedValuesOf('timeZone').filter((zone) => moment.tz.zone(zone) !== null);
    expect(zones.length).toBeGreaterThan(400);
    const different = new Set<string>();
    const compare = (day: string, zone: string) => {
      if (areOfOneMind(day, zone)) sameAsMoment(day, zone);
      else different.add(zone);
    };
    fc.assert(
      fc.property(fc.constantFrom(...zones), fc.integer({ min: 0, max: 9000 }), (zone, n) => {
        compare(addDays('2000-01-01', n), zone);
        const changes = (moment.tz.zone(zone)?.untils ?? []).filter(
          (at) => at > Date.UTC(2000, 0, 1) && at < Date.UTC(2026, 0, 1),
        );
        const change = changes[n % Math.max(1, changes.length)];
        if (change !== undefined) compare(localDate(new Date(change).toISOString(), zone), zone);
      }),
      { numRuns: 60, examples: [['Europe/Chisinau', 3372]] },
    );
    expect(different.size).toBeLessThan(6);
  });
});

/** Instants of the changes of a zone's clock, from the IANA database. */
function changesOf(zone: string): number[] {
  const [from, to] = [Date.UTC(2024, 0, 1), Date.UTC(2031, 0, 1)];
  return (moment.tz.zone(zone)?.untils ?? []).filter(
    (at): at is number => at !== null && at >= from && at < to,
  );
}

test('day numbers and dates are each other’s inverse at the ends of years', () => {
  for (let day = 0; day < 40_000; day += 365) expect(addDays('1970-01-01', day)).toBe(fromDayNumber(day));
});

test.each(['Europe/London', 'America/St_Johns', 'Australia/Lord_Howe', 'Pacific/Kiritimati'])(
  'dates looked up by the day are the dates looked up one by one: %s',
  (zone) => {
    const dateOf = localDatesOf(zone);
    for (let at = Date.UTC(2026, 2, 20); at < Date.UTC(2026, 3, 10); at += 1_740_000) {
      const instant = new Date(at).toISOString();
      expect(dateOf(instant)).toBe(localDate(instant, zone));
    }
  },
);
