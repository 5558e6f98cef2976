import { isWorkingDay, whyNotWorking } from '@kettle/core/time';
import { stoppedClock } from '../../platform/clock';
import { Calendars, regionsOf, usualDaysOff, usualHours, weekdaysOf } from './calendars';

const calendars = new Calendars(stoppedClock('2026-11-24T09:00:00.000Z'));
const named = (country: string, zone: string, daysOff = {}, hours?: typeof usualHours) =>
  calendars.of({ country, zone, ...(hours && { hours }) }, { ...usualDaysOff, ...daysOff }).holidays;

// gov.uk/bank-holidays and the Scottish Banking and Financial Dealings Act's days, from memory.
test('a part of a country has its own holidays; without one those of its largest count', () => {
  const [england, scotland] = [
    named('GB', 'Europe/London'),
    named('GB', 'Europe/London', { regions: { GB: 'SCT' } }),
  ];
  expect(['2026-01-02', '2026-08-03', '2026-11-30'].map((day) => scotland.has(day))).toEqual([
    true,
    true,
    true,
  ]);
  expect(['2026-01-02', '2026-08-03', '2026-11-30'].map((day) => england.has(day))).toEqual([
    false,
    false,
    false,
  ]);
  expect([england.has('2026-08-31'), scotland.has('2026-04-06')]).toEqual([true, false]);
});

// Bavaria's Feiertagsgesetz, article 1, and North Rhine-Westphalia's section 2, from memory.
test('Epiphany is one in Bavaria, and not where most of Germany lives', () => {
  expect(named('DE', 'Europe/Berlin', { regions: { DE: 'BY' } }).has('2026-01-06')).toBe(true);
  expect(named('DE', 'Europe/Berlin').has('2026-01-06')).toBe(false);
});

test('half days and days of banks are days off only where the organisation says so', () => {
  const [usual, also] = [named('DE', 'Europe/Berlin'), named('DE', 'Europe/Berlin', { halfDaysOff: true })];
  expect([usual.has('2026-12-24'), also.get('2026-12-24'), usual.has('2026-12-25')]).toEqual([
    false,
    'Christmas Eve',
    true,
  ]);
});

test('a holiday of several days is all of them', () => {
  const days = [...named('TR', 'Europe/Istanbul')].filter(([, name]) =>
    /Eid al-Adha|Feast of Sacrifice|Kurban/i.test(name),
  );
  expect(days.filter(([day]) => day.startsWith('2026')).length).toBeGreaterThanOrEqual(4);
});

// Unicode CLDR, supplemental data, weekData.
test.each([
  ['EG', [1, 2, 3, 4, 7]],
  ['GB', [1, 2, 3, 4, 5]],
  ['IR', [1, 2, 3, 4, 6, 7]],
])('the working week of %s is %j', (country, weekdays) => {
  expect(weekdaysOf(country)).toEqual(weekdays);
});

test('a contact in Cairo works on Sunday and not on Friday; a colleague whose hours are known keeps those', () => {
  const theirs = calendars.of({ country: 'EG', zone: 'Africa/Cairo' }, usualDaysOff);
  expect([isWorkingDay('2026-11-22', theirs), whyNotWorking('2026-11-27', theirs)]).toEqual([
    true,
    'not a working day in Egypt',
  ]);
  const ours = calendars.of({ country: 'EG', zone: 'Africa/Cairo', hours: usualHours }, usualDaysOff);
  expect(isWorkingDay('2026-11-27', ours)).toBe(true);
});

test('the organisation’s own days are its people’s, not its customers’', () => {
  const ownDaysOff = [{ on: '2026-12-29', name: 'closed for stocktaking' }];
  expect(named('GB', 'Europe/London', { ownDaysOff }, usualHours).get('2026-12-29')).toBe(
    'closed for stocktaking',
  );
  expect(named('GB', 'Europe/London', { ownDaysOff }).has('2026-12-29')).toBe(false);
});

test('the parts of a country are named; one without parts has none', () => {
  expect(regionsOf('GB')).toEqual(
    expect.arrayContaining([
      { code: 'ENG', name: 'England', isUsual: true },
      { code: 'SCT', name: 'Scotland', isUsual: false },
    ]),
  );
  expect(regionsOf('IE')).toEqual([]);
});
