import fc from 'fast-check';
import { RRuleTemporal } from 'rrule-temporal';
import { expandCalendar, type Occurrence } from '.';

/**
 * Worked examples of RFC 5545, 3.8.5.3, 3.8.5.1, 3.8.4.4 and 3.6.4 (the days from memory of the document), and drawn rules against the
 * registry's rrule-temporal package.
 */
const calendarOf = (...body: string[]) =>
  ['BEGIN:VCALENDAR', 'VERSION:2.0', 'PRODID:-//a//b//EN', ...body, 'END:VCALENDAR'].join('\r\n');
const eventOf = (...body: string[]) => ['BEGIN:VEVENT', 'UID:x@firm.example', ...body, 'END:VEVENT'];
const in1997 = { from: '1997-01-01T00:00:00.000Z', to: '1999-01-01T00:00:00.000Z', zone: 'Europe/London' };
const read = (text: string, stretch = in1997): readonly Occurrence[] =>
  expandCalendar(text, stretch)!.occurrences;
const days = (text: string, stretch = in1997) =>
  read(text, stretch).map(({ startsAt }) => startsAt.slice(0, 10));
const newYork = 'DTSTART;TZID=America/New_York:19970902T090000';
const ruled = (rule: string, ...more: string[]) =>
  calendarOf(...eventOf(newYork, 'DURATION:PT1H', `RRULE:${rule}`, ...more));
const september = (...of: number[]) => of.map((day) => `1997-09-${String(day).padStart(2, '0')}`);

describe('the examples of RFC 5545, 3.8.5.3', () => {
  test('daily for ten occurrences', () => {
    expect(days(ruled('FREQ=DAILY;COUNT=10'))).toEqual(september(2, 3, 4, 5, 6, 7, 8, 9, 10, 11));
  });
  test('daily until Christmas Eve, at nine by the clock on the wall on either side of its change', () => {
    const found = read(ruled('FREQ=DAILY;UNTIL=19971224T000000Z'));
    expect(found).toHaveLength(113);
    expect([found[0]!.startsAt, found.at(-1)!.startsAt]).toEqual([
      '1997-09-02T13:00:00.000Z',
      '1997-12-23T14:00:00.000Z',
    ]);
  });
  test('every other week on Monday, Wednesday and Friday until Christmas Eve', () => {
    const text = calendarOf(
      ...eventOf(
        'DTSTART;TZID=America/New_York:19970901T090000',
        'DURATION:PT1H',
        'RRULE:FREQ=WEEKLY;INTERVAL=2;UNTIL=19971224T000000Z;WKST=SU;BYDAY=MO,WE,FR',
      ),
    );
    expect(days(text)).toEqual([
      ...september(1, 3, 5, 15, 17, 19, 29),
      ...[
        '1997-10-01',
        '1997-10-03',
        '1997-10-13',
        '1997-10-15',
        '1997-10-17',
        '1997-10-27',
        '1997-10-29',
        '1997-10-31',
      ],
      ...['1997-11-10', '1997-11-12', '1997-11-14', '1997-11-24', '1997-11-26', '1997-11-28'],
      ...['1997-12-08', '1997-12-10', '1997-12-12', '1997-12-22'],
    ]);
  });
  test('monthly on the second to last Monday for six months', () => {
    const text = calendarOf(
      ...eventOf(
        'DTSTART;TZID=America/New_York:19970922T090000',
        'DURATION:PT1H',
        'RRULE:FREQ=MONTHLY;COUNT=6;BYDAY=-2MO',
      ),
    );
    expect(days(text)).toEqual([
      '1997-09-22',
      '1997-10-20',
      '1997-11-17',
      '1997-12-22',
      '1998-01-19',
      '1998-02-16',
    ]);
  });
  test('Friday the thirteenth, without the day it is counted from', () => {
    const text = ruled('FREQ=MONTHLY;BYDAY=FR;BYMONTHDAY=13', 'EXDATE;TZID=America/New_York:19970902T090000');
    expect(days(text)).toEqual(['1998-02-13', '1998-03-13', '1998-11-13']);
  });
  test('the third instance into the month of a Tuesday, Wednesday or Thursday', () => {
    const text = calendarOf(
      ...eventOf(
        'DTSTART;TZID=America/New_York:19970904T090000',
        'DURATION:PT1H',
        'RRULE:FREQ=MONTHLY;COUNT=3;BYDAY=TU,WE,TH;BYSETPOS=3',
      ),
    );
    expect(days(text)).toEqual(['1997-09-04', '1997-10-07', '1997-11-06']);
  });
  test('a day that a month does not have is left out', () => {
    const text = calendarOf(
      ...eventOf(
        'DTSTART;TZID=America/New_York:20070115T090000',
        'DURATION:PT1H',
        'RRULE:FREQ=MONTHLY;BYMONTHDAY=15,30;COUNT=5',
      ),
    );
    expect(
      days(text, { from: '2007-01-01T00:00:00.000Z', to: '2008-01-01T00:00:00.000Z', zone: 'Europe/London' }),
    ).toEqual(['2007-01-15', '2007-01-30', '2007-02-15', '2007-03-15', '2007-03-30']);
  });
});

describe('what is left out, added, moved', () => {
  const winter = { from: '2026-12-01T00:00:00.000Z', to: '2027-01-01T00:00:00.000Z', zone: 'Europe/London' };
  const weekly = [
    'DTSTART;TZID=Europe/London:20261201T140000',
    'DTEND;TZID=Europe/London:20261201T150000',
    'SUMMARY:Team',
    'RRULE:FREQ=WEEKLY',
  ];
  test('one is off, one moved to the evening, one added (3.8.5.1, 3.8.4.4, 3.8.5.2)', () => {
    const text = calendarOf(
      ...eventOf(
        ...weekly,
        'EXDATE;TZID=Europe/London:20261208T140000',
        'RDATE;TZID=Europe/London:20261210T140000',
      ),
      ...eventOf(
        'RECURRENCE-ID;TZID=Europe/London:20261215T140000',
        'DTSTART;TZID=Europe/London:20261215T180000',
        'DTEND;TZID=Europe/London:20261215T183000',
        'SUMMARY:Team, late',
      ),
      ...eventOf(
        'RECURRENCE-ID;TZID=Europe/London:20261222T140000',
        'DTSTART;TZID=Europe/London:20261222T140000',
        'STATUS:CANCELLED',
      ),
    );
    expect(
      read(text, winter).map(({ startsAt, endsAt, title }) => [
        startsAt.slice(5, 16),
        endsAt.slice(11, 16),
        title,
      ]),
    ).toEqual([
      ['12-01T14:00', '15:00', 'Team'],
      ['12-10T14:00', '15:00', 'Team'],
      ['12-15T18:00', '18:30', 'Team, late'],
      ['12-29T14:00', '15:00', 'Team'],
    ]);
  });
  test('a whole day that is left out of a series with times (a habit of some programs)', () => {
    expect(days(calendarOf(...eventOf(...weekly, 'EXDATE;VALUE=DATE:20261215')), winter)).toEqual([
      '2026-12-01',
      '2026-12-08',
      '2026-12-22',
      '2026-12-29',
    ]);
  });
  test('a series whose zone the file brings itself, under a name nobody knows', () => {
    const text = calendarOf(
      'BEGIN:VTIMEZONE',
      'TZID:Office 3',
      'BEGIN:STANDARD',
      'DTSTART:19701025T030000',
      'TZOFFSETFROM:+0200',
      'TZOFFSETTO:+0100',
      'END:STANDARD',
      'END:VTIMEZONE',
      ...eventOf(
        'DTSTART;TZID=Office 3:20261201T140000',
        'DURATION:PT30M',
        'RRULE:FREQ=DAILY;UNTIL=20261203T130000Z',
      ),
    );
    expect(read(text, winter).map(({ startsAt }) => startsAt.slice(8, 16))).toEqual([
      '01T13:00',
      '02T13:00',
      '03T13:00',
    ]);
  });
  test('what began before and reaches into the stretch is in it; what ends as it begins is not', () => {
    const text = calendarOf(
      ...eventOf('DTSTART:20261130T230000Z', 'DTEND:20261201T010000Z'),
      ...[
        'BEGIN:VEVENT',
        'UID:y@firm.example',
        'DTSTART:20261130T230000Z',
        'DTEND:20261201T000000Z',
        'END:VEVENT',
      ],
    );
    expect(read(text, winter).map(({ uid }) => uid)).toEqual(['x@firm.example']);
  });
});

test('busy times without a word (3.6.4); what is said to be free is not', () => {
  const text = calendarOf(
    ...['BEGIN:VFREEBUSY', 'UID:b@firm.example', 'DTSTART:19980101T000000Z', 'DTEND:19980201T000000Z'],
    ...[
      'FREEBUSY:19980314T233000Z/19980315T003000Z',
      'FREEBUSY:19980316T153000Z/PT1H',
      'FREEBUSY;FBTYPE=FREE:19980317T000000Z/PT1H',
      'END:VFREEBUSY',
    ],
  );
  expect(read(text).map(({ startsAt, endsAt, isBusy, title }) => [startsAt, endsAt, isBusy, title])).toEqual([
    ['1998-03-14T23:30:00.000Z', '1998-03-15T00:30:00.000Z', true, ''],
    ['1998-03-16T15:30:00.000Z', '1998-03-16T16:30:00.000Z', true, ''],
  ]);
});

test.each([
  [[], false, true],
  [['TRANSP:TRANSPARENT'], false, false],
  [[], true, false],
  [['TRANSP:OPAQUE'], true, true],
])('takes time (3.8.2.7): %p, a whole day %p', (more, isAllDay, isBusy) => {
  const start = isAllDay ? 'DTSTART;VALUE=DATE:19970902' : newYork;
  expect(read(calendarOf(...eventOf(start, 'DURATION:PT1H', ...more)))[0]!.isBusy).toBe(isBusy);
});

test('what is no calendar is none; what is broken inside does not hide the rest; what never ends is cut', () => {
  expect(expandCalendar('<html>sign in</html>', in1997)).toBeNull();
  expect(expandCalendar('BEGIN:VCARD\r\nEND:VCARD', in1997)).toBeNull();
  expect(days(calendarOf(...eventOf('SUMMARY:no beginning'), ...eventOf(newYork)))).toEqual(september(2));
  expect(expandCalendar(ruled('FREQ=SECONDLY'), in1997)!.isCut).toBe(true);
});

test('equals the reference library on drawn rules, across both changes of the clock', () => {
  const weekday = fc.constantFrom('MO', 'TU', 'WE', 'TH', 'FR', 'SA', 'SU');
  const rule = fc.oneof(
    fc
      .record({ freq: fc.constant('DAILY'), interval: fc.integer({ min: 1, max: 9 }) })
      .map(({ freq, interval }) => `FREQ=${freq};INTERVAL=${interval}`),
    fc
      .record({
        days: fc.uniqueArray(weekday, { minLength: 1, maxLength: 4 }),
        interval: fc.integer({ min: 1, max: 4 }),
      })
      .map(({ days: on, interval }) => `FREQ=WEEKLY;INTERVAL=${interval};BYDAY=${on.join(',')}`),
    fc.integer({ min: 1, max: 31 }).map((day) => `FREQ=MONTHLY;BYMONTHDAY=${day}`),
    fc
      .record({ day: weekday, nth: fc.constantFrom(1, 2, 3, 4, -1, -2) })
      .map(({ day, nth }) => `FREQ=MONTHLY;BYDAY=${nth}${day}`),
    fc
      .record({ month: fc.integer({ min: 1, max: 12 }), day: fc.integer({ min: 28, max: 31 }) })
      .map(({ month, day }) => `FREQ=YEARLY;BYMONTH=${month};BYMONTHDAY=${day}`),
  );
  const end = fc.oneof(
    fc.constant(''),
    fc.integer({ min: 1, max: 12 }).map((n) => `;COUNT=${n}`),
    fc.constant(';UNTIL=20270601T120000Z'),
  );
  const stretch = { from: '2026-01-01T00:00:00.000Z', to: '2028-01-01T00:00:00.000Z', zone: 'UTC' };
  fc.assert(
    fc.property(
      rule,
      end,
      fc.constantFrom('Europe/London', 'America/New_York', 'Asia/Kolkata'),
      (asked, until, zone) => {
        const whole = asked + until;
        const start = `DTSTART;TZID=${zone}:20260302T093000`;
        const theirs = new RRuleTemporal({ rruleString: `${start}\nRRULE:${whole}` });
        const all: string[] = [];
        for (const each of theirs.between(new Date(stretch.from), new Date(stretch.to), true)) {
          all.push(new Date(each.epochMilliseconds).toISOString());
        }
        // The day it is counted from is in it (RFC 5545, 3.8.5.3), whether or not the rule names it; they leave it out then.
        const first = new Date(
          Date.parse(read(calendarOf(...eventOf(start)), stretch)[0]!.startsAt),
        ).toISOString();
        const ours = read(calendarOf(...eventOf(start, 'DURATION:PT1H', `RRULE:${whole}`)), stretch).map(
          ({ startsAt }) => startsAt,
        );
        const without = (list: readonly string[]) => list.filter((at) => at !== first);
        expect(without(ours)).toEqual(without(all));
      },
    ),
    { numRuns: 80 },
  );
});
