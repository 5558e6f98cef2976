import type { PlainDate } from '@kettle/contract';
import { isMonthFirst, localeOf } from '../locale';
import { addDays, daysInMonth, isoWeekday } from '../time';

/** The languages in which days are understood in mail. */
export const mailLanguages = ['en', 'de', 'nl', 'fr', 'es', 'pt', 'it', 'sv', 'pl'] as const;

/** A day that a text names. */
export interface DayInText {
  /** Where it begins and ends in the folded text, a weekday in front of it included. */
  readonly from: number;
  readonly to: number;
  readonly day: PlainDate;
}

/**
 * A text in small letters without accents, mark for mark, so that places in it are places in the text.
 * @example folded('Février') is 'fevrier'
 */
export function folded(text: string): string {
  return [...text.replaceAll('’', "'")]
    .map((mark) => {
      const plain = mark.normalize('NFD')[0]!.toLowerCase();
      return plain.length === mark.length ? plain : mark;
    })
    .join('')
    .replaceAll('ł', 'l')
    .replaceAll('ß', 's');
}

const ofPattern = (words: Iterable<string>) =>
  [...new Set(words)]
    .sort((one, other) => other.length - one.length)
    .map((word) => word.replaceAll('.', String.raw`\.`))
    .join('|');

/** Names of the months, as they stand alone and beside a day, long and short: `grudzień`, `grudnia`, `gru`. */
const months = namesOf(12, (index) => new Date(Date.UTC(2026, index, 15)), [
  { month: 'long' },
  { month: 'long', day: 'numeric' },
  { month: 'short' },
  { month: 'short', day: 'numeric' },
]);
const weekdays = namesOf(7, (index) => new Date(Date.UTC(2026, 10, 23 + index)), [
  { weekday: 'long' },
  { weekday: 'short' },
]);
for (const [word, number] of [
  ['sept', 9],
  ['set', 9],
  ['mrz', 3],
] as const)
  months.set(word, number);
// The cases of Polish weekdays, as they stand after "od" and "w".
for (const [word, number] of [
  ['srody', 3],
  ['srode', 3],
  ['soboty', 6],
  ['sobote', 6],
  ['niedzieli', 7],
  ['poniedzialku', 1],
  ['wtorku', 2],
  ['czwartku', 4],
  ['piatku', 5],
] as const)
  weekdays.set(word, number);
// Short names that are words of their own in another of the languages.
for (const word of [
  'so',
  'do',
  'di',
  'sam',
  'mar',
  'dom',
  'sex',
  'lor',
  'ma',
  'me',
  'za',
  'on',
  'to',
  'tor',
  'mer',
  'ven',
])
  weekdays.delete(word);

/** Whether a word is the name of a month in one of the languages. */
export const isMonthName = (word: string): boolean => months.has(folded(word));

function namesOf(
  count: number,
  dateOf: (index: number) => Date,
  shapes: readonly Intl.DateTimeFormatOptions[],
): Map<string, number> {
  const names = new Map<string, number>();
  for (const language of mailLanguages)
    for (const shape of shapes) {
      const format = new Intl.DateTimeFormat(language, { ...shape, timeZone: 'UTC' });
      for (let index = 0; index < count; index += 1) {
        const part = format
          .formatToParts(dateOf(index))
          .find(({ type }) => type === 'month' || type === 'weekday')!;
        const word = folded(part.value).replace(/\.$/, '');
        names.set(word, index + 1);
        // A long weekday is also written by its first half: `segunda` of `segunda-feira`.
        if (word.includes('-')) names.set(word.slice(0, word.indexOf('-')), index + 1);
      }
    }
  return names;
}

const relative: ReadonlyMap<string, number> = new Map([
  ...[
    'today',
    'heute',
    'vandaag',
    "aujourd'hui",
    'hoy',
    'hoje',
    'oggi',
    'idag',
    'i dag',
    'dzisiaj',
    'dzis',
  ].map((word) => [word, 0] as const),
  ...['tomorrow', 'morgen', 'demain', 'manana', 'amanha', 'domani', 'imorgon', 'i morgon', 'jutro'].map(
    (word) => [word, 1] as const,
  ),
]);

const article = String.raw`(?:the|den|dem|der|le|el|il|de|dia|dnia|d)\.?\s+`;
const month = `(?<month>${ofPattern(months.keys())})`;
const year = String.raw`(?:,?\s*(?:de\s+)?(?<year>20\d\d)(?!\d))?`;
const dayNumber = String.raw`(?<day>\d{1,2})(?:st|nd|rd|th|er|eme|[eº°ª]|:[ea]|\.)?`;
const letter = String.raw`[\p{L}\d]`;

const shapes = [
  String.raw`(?<iso>20\d\d-\d\d-\d\d)(?!\d)`,
  String.raw`(?<end>end of|ende|eind|fin|finales de|final de|fine|slutet av|koniec|konca)\s+(?:de\s+)?${month}${year}(?!${letter})`,
  String.raw`${dayNumber}\s*(?:de\s+|of\s+)?${month}\.?(?!${letter})${year}`,
  String.raw`${month}\.?\s+${dayNumber}(?!${letter})${year}`,
  String.raw`(?<one>\d{1,2})(?<mark>[./])(?<other>\d{1,2})(?:\k<mark>\s?(?<year>20\d\d|\d\d)(?!\d))?(?![\d:])`,
  String.raw`(?<!-)(?<one>\d{1,2})-(?<other>\d{1,2})-(?<year>20\d\d|\d\d)(?!\d)`,
] as const;

const weekday = `(?<weekday>${ofPattern(weekdays.keys())})`;
const finders = shapes.map(
  (shape) =>
    new RegExp(
      String.raw`(?<!${letter}|[/:])(?:${weekday}\.?,?\s+(?:${article})?)?(?:${article})?${shape}`,
      'gu',
    ),
);
const weekdayAlone = new RegExp(String.raw`(?<!${letter})${weekday}(?!${letter})`, 'gu');
const relativeAlone = new RegExp(
  String.raw`(?<!${letter}|guten |la )(?<word>${ofPattern(relative.keys())})(?!${letter})`,
  'gu',
);

/**
 * The days that a mail names, in the order of the text: with their month in words in nine languages, in figures in the order of the
 * writer's country, weekdays and tomorrow. Without a year it is the one nearest to the day of the mail; there is no other guess.
 * @param text in folded letters, at most some thousand of them
 * @param on the day the mail came, by the writer's clock
 * @example daysInText('back on 7 december', { on: '2026-11-24', country: 'GB' }) // [{ day: '2026-12-07', from: 8, to: 18 }]
 */
export function daysInText(
  text: string,
  { on, country }: { readonly on: PlainDate; readonly country: string },
): DayInText[] {
  const found: DayInText[] = [];
  const isFree = (from: number, to: number) => found.every((each) => to <= each.from || from >= each.to);
  const add = (match: RegExpExecArray, day: PlainDate | null) => {
    const [from, to] = [match.index, match.index + match[0].length];
    if (day !== null && isFree(from, to)) found.push({ from, to, day });
  };
  for (const finder of finders)
    for (const match of text.matchAll(finder)) add(match, dayOf(match.groups!, on, country));
  for (const match of text.matchAll(weekdayAlone)) {
    const wanted = weekdays.get(match.groups!.weekday!)!;
    add(match, addDays(on, (wanted - isoWeekday(on) + 7) % 7));
  }
  for (const match of text.matchAll(relativeAlone))
    add(match, addDays(on, relative.get(match.groups!.word!)!));
  return found.sort((one, other) => one.from - other.from);
}

type Named = Readonly<Record<string, string | undefined>>;

function dayOf(named: Named, on: PlainDate, country: string): PlainDate | null {
  if (named.iso !== undefined)
    return plain(...(named.iso.split('-').map(Number) as [number, number, number]));
  const given = named.year === undefined ? null : Number(named.year) + (named.year.length === 2 ? 2000 : 0);
  if (named.month !== undefined) {
    const at = months.get(named.month)!;
    if (named.end !== undefined) return nearest(given, on, (in_) => plain(in_, at, daysInMonth(in_, at)));
    return nearest(given, on, (in_) => plain(in_, at, Number(named.day)));
  }
  const [one, other] = [Number(named.one), Number(named.other)];
  const monthFirst = isMonthFirst(localeOf(country)) ? other <= 31 && one <= 12 : other > 12;
  return nearest(given, on, (in_) => (monthFirst ? plain(in_, one, other) : plain(in_, other, one)));
}

/** The year as given, else the one of this, the last and the next that brings it nearest to the day. */
function nearest(
  given: number | null,
  on: PlainDate,
  make: (year: number) => PlainDate | null,
): PlainDate | null {
  if (given !== null) return make(given);
  const now = Number(on.slice(0, 4));
  const days = [now, now + 1, now - 1].flatMap((each) => make(each) ?? []);
  const away = (day: PlainDate) => Math.abs(Date.parse(day) - Date.parse(on));
  return days.sort((one, other) => away(one) - away(other))[0] ?? null;
}

function plain(year: number, month: number, day: number): PlainDate | null {
  if (month < 1 || month > 12 || day < 1 || day > daysInMonth(year, month)) return null;
  return `${year}-${String(month).padStart(2, '0')}-${String(day).padStart(2, '0')}`;
}
