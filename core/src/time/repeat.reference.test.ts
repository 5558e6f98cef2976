import fc from 'fast-check';
import { RRuleTemporal } from 'rrule-temporal';
import { addDays, daysBetween, everComes, isRepeatRule, nextRepeat, readRepeat } from '.';

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

// The registry's rrule-temporal package as a second opinion over drawn rules of the whole subset. An anchor is one of the rule's own days at
// most the 28th, where the standard and clamping agree; clamping has examples of its own below.
test('equals the reference library on 2,000 drawn rules', () => {
  const weekday = fc.constantFrom('MO', 'TU', 'WE', 'TH', 'FR', 'SA', 'SU');
  const some = <T>(one: fc.Arbitrary<T>, most: number) =>
    fc.option(fc.uniqueArray(one, { minLength: 1, maxLength: most }), { nil: [] as T[] });
  const rules = fc.record({
    freq: fc.constantFrom('DAILY', 'WEEKLY', 'MONTHLY', 'YEARLY'),
    interval: fc.integer({ min: 1, max: 5 }),
    end: fc.oneof(
      fc.integer({ min: 1, max: 12 }),
      fc.integer({ min: 0, max: 900 }).map((days) => addDays('2026-01-05', days)),
    ),
    months: some(fc.integer({ min: 1, max: 12 }), 3),
    monthDays: some(fc.oneof(fc.integer({ min: 1, max: 31 }), fc.integer({ min: -31, max: -1 })), 3),
    days: some(fc.tuple(fc.option(fc.constantFrom(1, 2, 3, 4, -1, -2), { nil: null }), weekday), 3),
    positions: some(fc.constantFrom(1, 2, -1, -2), 2),
    weekStart: fc.constantFrom('MO', 'SU', 'WE'),
    offset: fc.integer({ min: 0, max: 700 }),
  });
  let compared = 0;
  const days = (part: string, list: readonly unknown[]) =>
    list.length > 0 ? `;${part}=${list.join(',')}` : '';
  fc.assert(
    fc.property(rules, (drawn) => {
      const end =
        typeof drawn.end === 'number' ? `;COUNT=${drawn.end}` : `;UNTIL=${drawn.end.replaceAll('-', '')}`;
      const rule =
        `FREQ=${drawn.freq};INTERVAL=${drawn.interval}${end};WKST=${drawn.weekStart}` +
        days('BYMONTH', drawn.months) +
        days('BYMONTHDAY', drawn.monthDays) +
        days(
          'BYDAY',
          drawn.days.map(([nth, name]) => `${nth ?? ''}${name}`),
        ) +
        days('BYSETPOS', drawn.positions);
      const anchor = addDays('2025-01-06', drawn.offset);
      fc.pre(isRepeatRule(rule) && Number(anchor.slice(8)) <= 28);
      compared += 1;
      const theirs = new RRuleTemporal({
        rruleString: `DTSTART:${anchor.replaceAll('-', '')}T000000Z\nRRULE:${rule.replace(/UNTIL=(\d{8})/, 'UNTIL=$1T000000Z')}`,
        maxIterations: 400,
      });
      const expected: string[] = [];
      try {
        theirs.all((day, n) => {
          expected.push(day.toString().slice(0, 10));
          return n < 12;
        });
      } catch {
        // It gives up where nothing more comes; what came before is compared.
      }
      // What comes only after more than a hundred years is never, here.
      const far = expected.findIndex((day, at) => daysBetween(expected[at - 1] ?? anchor, day) > 100 * 366);
      if (far >= 0) expected.length = far;
      expect([rule, anchor, firstDays(rule, anchor, expected.length)]).toEqual([rule, anchor, expected]);
    }),
    { numRuns: 2000, maxSkipsPerRun: 200 },
  );
  expect(compared).toBeGreaterThanOrEqual(2000);
}, 120_000);

test.each([
  ['FREQ=MONTHLY', '2026-01-31', ['2026-01-31', '2026-02-28', '2026-03-31', '2026-04-30', '2026-05-31']],
  ['FREQ=MONTHLY;INTERVAL=3', '2026-11-30', ['2026-11-30', '2027-02-28', '2027-05-30', '2027-08-30']],
  ['FREQ=YEARLY', '2024-02-29', ['2024-02-29', '2025-02-28', '2026-02-28', '2027-02-28', '2028-02-29']],
])(
  '%s from %s: a day that a month does not have is its last (RFC 7529, SKIP=BACKWARD)',
  (rule, anchor, days) => {
    expect(firstDays(rule, anchor, days.length)).toEqual(days);
  },
);

test.each([
  ['FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30', false],
  ['FREQ=MONTHLY;INTERVAL=12;BYMONTH=3', false],
  ['FREQ=DAILY;INTERVAL=1000;BYMONTH=2;BYMONTHDAY=30', false],
  ['FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=29;BYDAY=MO', true],
  ['FREQ=MONTHLY;BYDAY=5MO', true],
])('%s ever comes: %s, and asking takes bounded work', (rule, comes) => {
  expect(everComes(rule, '2026-01-15')).toBe(comes);
});

test('any text is read or refused in words, and any rule answers', () => {
  const word = fc.constantFrom(
    'FREQ',
    'INTERVAL',
    'BYDAY',
    'BYMONTHDAY',
    'BYSETPOS',
    'UNTIL',
    'COUNT',
    'BYHOUR',
  );
  const text = fc.array(fc.tuple(word, fc.oneof(fc.string({ maxLength: 6 }), fc.integer().map(String))), {
    maxLength: 5,
  });
  fc.assert(
    fc.property(text, fc.constantFrom('2026-01-31', '9999-12-31', '0001-01-01'), (parts, anchor) => {
      const rule = ['FREQ=MONTHLY', ...parts.map(([name, value]) => `${name}=${value}`)].join(';');
      if (isRepeatRule(rule)) everComes(rule, anchor);
    }),
  );
});

test.each([
  ['FREQ=WEEKLY;BYMONTHDAY=3', 'BYMONTHDAY means nothing in weeks'],
  ['FREQ=WEEKLY;BYDAY=1MO', 'BYDAY takes numbers only in months and years'],
  ['FREQ=DAILY;BYHOUR=9', 'has BYHOUR, which is not taken here'],
  ['FREQ=DAILY;INTERVAL=0', 'INTERVAL is a number from 1 to 1000'],
  ['FREQ=DAILY;COUNT=3;UNTIL=20271231', 'has COUNT or UNTIL, not both'],
  ['FREQ=DAILY;UNTIL=20270230', 'UNTIL is a day such as 20271231'],
  ['FREQ=MONTHLY;BYSETPOS=1', 'BYSETPOS needs BYDAY, BYMONTHDAY or BYMONTH'],
])('%s is refused: %s', (rule, why) => {
  expect(readRepeat(rule)).toBe(why);
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
