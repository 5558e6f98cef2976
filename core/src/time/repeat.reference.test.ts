import fc from 'fast-check';
import { RRuleTemporal } from 'rrule-temporal';
import { addDays, isRepeatRule, nextRepeat } from '.';

function firstDays(rule: string, anchor: string, count: number): string[] {
  const days: string[] = [];
  let after = addDays(anchor, -1);
  while (days.length < count) {
    const next = nextRepeat(rule, anchor, after);
    if (next === null) break;
    days.push(next);
    after = next;
  }
  return days;
}

// RFC 5545 section 3.8.5.3, the examples that go by days; DTSTART is 2 September 1997 unless said otherwise.
test.each([
  [
    'FREQ=DAILY;COUNT=10',
    '1997-09-02',
    [
      '1997-09-02',
      '1997-09-03',
      '1997-09-04',
      '1997-09-05',
      '1997-09-06',
      '1997-09-07',
      '1997-09-08',
      '1997-09-09',
      '1997-09-10',
      '1997-09-11',
    ],
  ],
  [
    'FREQ=DAILY;INTERVAL=10;COUNT=5',
    '1997-09-02',
    ['1997-09-02', '1997-09-12', '1997-09-22', '1997-10-02', '1997-10-12'],
  ],
  [
    'FREQ=WEEKLY;INTERVAL=2;UNTIL=19971224T000000Z;WKST=SU;BYDAY=MO,WE,FR',
    '1997-09-01',
    ['1997-09-01', '1997-09-03', '1997-09-05', '1997-09-15', '1997-09-17', '1997-09-19', '1997-09-29'],
  ],
  [
    'FREQ=WEEKLY;INTERVAL=2;COUNT=8;WKST=SU;BYDAY=TU,TH',
    '1997-09-02',
    [
      '1997-09-02',
      '1997-09-04',
      '1997-09-16',
      '1997-09-18',
      '1997-09-30',
      '1997-10-02',
      '1997-10-14',
      '1997-10-16',
    ],
  ],
  [
    'FREQ=MONTHLY;COUNT=10;BYDAY=1FR',
    '1997-09-05',
    ['1997-09-05', '1997-10-03', '1997-11-07', '1997-12-05', '1998-01-02', '1998-02-06'],
  ],
  [
    'FREQ=MONTHLY;COUNT=6;BYDAY=-2MO',
    '1997-09-22',
    ['1997-09-22', '1997-10-20', '1997-11-17', '1997-12-22', '1998-01-19', '1998-02-16'],
  ],
  [
    'FREQ=MONTHLY;BYMONTHDAY=-3',
    '1997-09-28',
    ['1997-09-28', '1997-10-29', '1997-11-28', '1997-12-29', '1998-01-29', '1998-02-26'],
  ],
  [
    'FREQ=YEARLY;COUNT=10;BYMONTH=6,7',
    '1997-06-10',
    ['1997-06-10', '1997-07-10', '1998-06-10', '1998-07-10', '1999-06-10'],
  ],
  [
    'FREQ=WEEKLY;INTERVAL=2;COUNT=4;BYDAY=TU,SU;WKST=MO',
    '1997-08-05',
    ['1997-08-05', '1997-08-10', '1997-08-19', '1997-08-24'],
  ],
  [
    'FREQ=WEEKLY;INTERVAL=2;COUNT=4;BYDAY=TU,SU;WKST=SU',
    '1997-08-05',
    ['1997-08-05', '1997-08-17', '1997-08-19', '1997-08-31'],
  ],
  [
    'FREQ=MONTHLY;BYMONTHDAY=15,30;COUNT=5',
    '2007-01-15',
    ['2007-01-15', '2007-01-30', '2007-02-15', '2007-03-15', '2007-03-30'],
  ],
])('%s from %s as the standard lists it', (rule, anchor, days) => {
  expect(firstDays(rule, anchor, days.length)).toEqual(days);
});

// The registry's rrule-temporal package as a second opinion over drawn rules.
test('equals the reference library', () => {
  const rules = fc.record({
    freq: fc.constantFrom('DAILY', 'WEEKLY', 'MONTHLY', 'YEARLY'),
    interval: fc.integer({ min: 1, max: 4 }),
    count: fc.integer({ min: 1, max: 6 }),
    offset: fc.integer({ min: 0, max: 365 }),
  });
  fc.assert(
    fc.property(rules, ({ freq, interval, count, offset }) => {
      const anchor = addDays('2025-01-06', offset);
      const rule = `FREQ=${freq};INTERVAL=${interval};COUNT=${count}`;
      const theirs = new RRuleTemporal({
        rruleString: `DTSTART:${anchor.replaceAll('-', '')}T000000Z\nRRULE:${rule}`,
      });
      expect(firstDays(rule, anchor, count)).toEqual(theirs.all().map((day) => day.toString().slice(0, 10)));
    }),
    { numRuns: 60 },
  );
});

test.each([
  ['FREQ=WEEKLY;BYDAY=MO', true],
  ['RRULE:FREQ=DAILY', true],
  ['FREQ=HOURLY', false],
  ['every monday', false],
  ['', false],
])('%s is a rule by days: %s', (rule, isOne) => {
  expect(isRepeatRule(rule)).toBe(isOne);
});
