import fc from 'fast-check';
import { addDays, isoWeekday, toDayNumber } from './plain-date';
import { quickDays, readTypedDay, readTypedMinute } from './typed';

/** A Friday. */
const today = '2026-11-27';
const gb = { today, locale: 'en-GB' };

describe('a typed day', () => {
  test.each([
    ['2026-12-03', '2026-12-03'],
    ['3/12', '2026-12-03'],
    ['03.12.', '2026-12-03'],
    ['3.12.26', '2026-12-03'],
    ['3-12-2027', '2027-12-03'],
    ['3 Dec', '2026-12-03'],
    ['3 December 2027', '2027-12-03'],
    ['3rd of december', '2026-12-03'],
    ['dec 3', '2026-12-03'],
    ['Thu 3 Dec', '2026-12-03'],
    ['Thursday, 3 December 2026', '2026-12-03'],
    ['27/11', today],
    ['26/11', '2027-11-26'],
    ['29/2', '2028-02-29', '2027-11-27'],
    ['today', today],
    ['tom', '2026-11-28'],
    ['tomorrow', '2026-11-28'],
    ['fri', '2026-12-04'],
    ['Monday', '2026-11-30'],
    ['+3d', '2026-11-30'],
    ['+3', '2026-11-30'],
    ['+ 2 w', '2026-12-11'],
    ['-1d', '2026-11-26'],
    ['+3m', '2027-02-27'],
    ['+1y', '2027-11-27'],
  ])('%s is %s', (text, day, from = today) => {
    expect(readTypedDay(text, { ...gb, today: from })).toBe(day);
  });

  test.each([
    '',
    '31/2',
    '32/1',
    '1/13',
    'rubbish',
    '3',
    'j 3',
    't',
    '3/12/1',
    '1/1/1850',
    '12/',
    '29/2/2027',
  ])('%j is none', (text) => {
    expect(readTypedDay(text, gb)).toBeNull();
  });

  test('is read in the order and the words of the person’s language, and in English', () => {
    expect(readTypedDay('12/3', { today, locale: 'en-US' })).toBe('2026-12-03');
    expect(readTypedDay('12/3', gb)).toBe('2027-03-12');
    const german = { today, locale: 'de-DE' };
    expect(readTypedDay('morgen', german)).toBe('2026-11-28');
    expect(readTypedDay('mi', german)).toBe('2026-12-02');
    expect(readTypedDay('3. Dezember', german)).toBe('2026-12-03');
    expect(readTypedDay('wed', german)).toBe('2026-12-02');
    expect(readTypedDay('3 déc', { today, locale: 'fr-FR' })).toBe('2026-12-03');
    expect(readTypedDay('mañana', { today, locale: 'es-ES' })).toBe('2026-11-28');
  });

  const anyDay = fc.integer({ min: toDayNumber('2020-01-01'), max: toDayNumber('2080-12-31') });
  const dayOf = (n: number) => addDays('1970-01-01', n);
  test('whatever a locale shows is read back', () => {
    fc.assert(
      fc.property(anyDay, fc.constantFrom('en-GB', 'en-US', 'de-DE', 'fr-FR', 'nl-NL'), (n, locale) => {
        const shown = new Intl.DateTimeFormat(locale, {
          ...({ weekday: 'short', day: '2-digit', month: '2-digit', year: 'numeric' } as const),
          timeZone: 'UTC',
        }).format(new Date(`${dayOf(n)}T00:00:00Z`));
        expect(readTypedDay(shown, { today, locale })).toBe(dayOf(n));
      }),
    );
  });
  test('a weekday is the next one, never today', () => {
    fc.assert(
      fc.property(anyDay, fc.constantFrom('mon', 'tue', 'wed', 'thu', 'fri', 'sat', 'sun'), (n, name) => {
        const from = dayOf(n);
        const read = readTypedDay(name, { today: from, locale: 'en-GB' })!;
        const ahead = toDayNumber(read) - n;
        expect(ahead >= 1 && ahead <= 7).toBe(true);
        expect(isoWeekday(read)).toBe(['mon', 'tue', 'wed', 'thu', 'fri', 'sat', 'sun'].indexOf(name) + 1);
      }),
    );
  });
  test('never throws', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 20 }), (text) => void readTypedDay(text, gb)),
    );
  });
});

test.each([
  ['9', 540],
  ['930', 570],
  ['0930', 570],
  ['14.15', 855],
  ['14h15', 855],
  ['2pm', 840],
  ['2.30 pm', 870],
  ['12am', 0],
  ['12pm', 720],
  ['08:05', 485],
  ['0', 0],
  ['23:59', 1439],
  ['24', null],
  ['25', null],
  ['13pm', null],
  ['9:7', null],
  ['960', null],
  ['', null],
  ['noon', null],
])('the time %s is %s minutes after midnight', (text, minute) => {
  expect(readTypedMinute(text)).toBe(minute);
});

describe('days that are often meant', () => {
  const isWeekday = (day: string) => isoWeekday(day) < 6;
  test('leave out what is the same day twice, and the last three are days of work', () => {
    expect(quickDays(today, isWeekday)).toEqual([
      { name: 'Today', day: '2026-11-27' },
      { name: 'Tomorrow', day: '2026-11-28' },
      { name: 'Next working day', day: '2026-11-30' },
      { name: 'In a week', day: '2026-12-04' },
      { name: 'Next month', day: '2026-12-01' },
      { name: 'Next quarter', day: '2027-01-01' },
    ]);
    expect(quickDays('2026-11-30', isWeekday).map(({ name }) => name)).toEqual([
      'Today',
      'Tomorrow',
      'In a week',
      'Next quarter',
    ]);
  });
  test('end, even where nobody works', () => {
    expect(quickDays(today, () => false)).toHaveLength(5);
  });
});
