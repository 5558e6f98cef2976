/**
 * How dates, times, numbers and money are written: the words are English, the habits are those of the reader's country. Whose habits
 * hold is said once by whoever shows something (the page its reader, the server whoever asked), so that no function has to hand it on.
 * Habits are those of Unicode's CLDR, as the runtime has them.
 */

let whose: () => string = () => 'en-GB';

/** The locale in force, as a language tag (BCP 47). @example locale() is 'en-GB' unless somebody else reads */
export const locale = (): string => whose();

/** The locale of somebody in a country, who reads English unless another language is said. @example localeOf('DE') is 'en-DE': 24.300,50 and 27 Nov */
export const localeOf = (country: string, language = 'en'): string =>
  `${new Intl.Locale(language).language}-${country}`;

/** Says whose habits hold from now on; asked anew for whatever is written. */
export function writeAs(reader: () => string): void {
  whose = reader;
}

/** What was made once for its key. */
function once<T>(make: (tag: string, options: never) => T): (tag: string, options: object) => T {
  const made = new Map<string, T>();
  return (tag, options) => {
    const key = `${tag} ${JSON.stringify(options)}`;
    const known = made.get(key) ?? make(tag, options as never);
    made.set(key, known);
    return known;
  };
}

/** What a country writes without words, in its own language: figures, the order of a date, the hours of a clock. */
const habits = once((tag) => {
  const reads = new Intl.Locale(tag).language;
  const { language, region } = new Intl.Locale(tag.replace(reads, 'und')).maximize();
  const own = ['AU', 'CA', 'GB', 'IE', 'IN', 'NZ', 'US', 'ZA'].includes(region ?? '') ? 'en' : language;
  const figures = `${own}-${region}-u-nu-latn-ca-gregory`;
  // Without its year: Sweden writes 2026-11-27 and 27/11.
  const date = new Intl.DateTimeFormat(figures, {
    timeZone: 'UTC',
    day: 'numeric',
    month: 'numeric',
  }).formatToParts(Date.UTC(2026, 10, 27));
  const isMonthFirst =
    date.findIndex(({ type }) => type === 'month') < date.findIndex(({ type }) => type === 'day');
  const { hourCycle } = new Intl.DateTimeFormat(figures, { hour: 'numeric' }).resolvedOptions();
  // Where English has no habits of the country's, it would write as in the United States.
  const isKnown = new Intl.DateTimeFormat(tag).resolvedOptions().locale === tag;
  return {
    figures,
    isMonthFirst,
    is12Hours: hourCycle === 'h12',
    words: isKnown ? tag : reads !== 'en' ? reads : isMonthFirst ? 'en-US' : 'en-GB',
  };
});

/** Whether a country counts the hours of a day to 12. @example is12Hours('en-AU') */
export const is12Hours = (tag = whose()): boolean => habits(tag, {}).is12Hours;

/** Whether the month stands before the day. @example isMonthFirst('en-US') */
export const isMonthFirst = (tag = whose()): boolean => habits(tag, {}).isMonthFirst;

const numbers = once((tag, options) => new Intl.NumberFormat(tag, options));
const dates = once((tag, options) => new Intl.DateTimeFormat(tag, options));

/** @example numberFormat({ maximumFractionDigits: 0 }).format(1234) is '1,234', and '1.234' in Germany */
export const numberFormat = (options: Intl.NumberFormatOptions = {}): Intl.NumberFormat =>
  numbers(habits(whose(), {}).figures, options);

/** English words in the order of the reader's country. @example dateFormat({ month: 'short', timeZone: 'UTC' }) */
export const dateFormat = (options: Intl.DateTimeFormatOptions): Intl.DateTimeFormat =>
  dates(habits(whose(), {}).words, options);

/** CLDR's categories of plurals, in the order in which a text gives its forms. */
const categories = ['zero', 'one', 'two', 'few', 'many', 'other'] as const;

/** The plurals of a language: its rules, and the categories they tell apart. */
const plurals = once((tag) => {
  const rules = new Intl.PluralRules(tag);
  const { pluralCategories } = rules.resolvedOptions();
  return { rules, known: categories.filter((each) => pluralCategories.includes(each)) };
});

/**
 * The form of a text that a number asks for. A text has all the forms of its language, in CLDR's order (zero, one, two, few, many, other):
 * English has two, Polish four. For a form that is left out the last one stands.
 * @example formOf(1, 'in 1 day|in 1 days') is 'in 1 day'
 */
export function formOf(count: number, forms: string): string {
  const { rules, known } = plurals(whose(), {});
  const all = forms.split('|');
  return all[known.indexOf(rules.select(count))] ?? all.at(-1)!;
}

/** A number with its noun. @example sayCount(1, 'day|days') is '1 day'; sayCount(2000, 'try|tries') is '2,000 tries' */
export const sayCount = (count: number, forms: string): string =>
  `${numberFormat().format(count)} ${formOf(count, forms)}`;

/** What parts a number in the locale in force. @example marks() is { group: ',', decimal: '.' } */
function marks(): { readonly group: string; readonly decimal: string } {
  const parts = numberFormat({ minimumFractionDigits: 1, useGrouping: true }).formatToParts(12_345.6);
  const of = (type: string) => parts.find((part) => part.type === type)?.value ?? '';
  return { group: of('group'), decimal: of('decimal') };
}

/** How many digits a group before the last one has: two in India. */
const groupSize = (): number =>
  numberFormat({ useGrouping: true })
    .formatToParts(12_345_678)
    .filter(({ type }) => type === 'integer')[1]!.value.length;

/** A number as it was typed: without what parts thousands, and how many places it has. */
export interface TypedNumber {
  readonly value: number;
  readonly places: number;
}

/**
 * A number as people type it, its thousands parted by the mark of the locale in force, a space or an apostrophe. What the locale's
 * marks cannot mean is read by those of the other half of the world: '0,9' and '1.234,5' are numbers in Britain too. Null when it is none.
 * @example readNumber('4,400.5') is { value: 4400.5, places: 1 }; readNumber('4 400') is { value: 4400, places: 0 }
 */
export function readNumber(text: string): TypedNumber | null {
  const { group, decimal } = marks();
  return readMarked(text, group, decimal) ?? readMarked(text, decimal, decimal === ',' ? '.' : ',');
}

function readMarked(text: string, group: string, decimal: string): TypedNumber | null {
  const typed = text
    .replace(/[\u061c\u200e\u200f]/g, '')
    .trim()
    .replace('−', '-')
    .replace(/(?<=\d)[\s\u00a0\u202f'’](?=\d{3}(?!\d))/g, group);
  const [whole = '', part = '', ...more] = typed.split(decimal);
  const [first = '', ...threes] = whole.replace(/^[-+]/, '').split(group);
  // Whoever groups by two also meets, and types, groups of three.
  const isGrouped = [groupSize(), 3].some(
    (size) =>
      threes.every((three, at) => three.length === (at === threes.length - 1 ? 3 : size)) &&
      (threes.length === 0 || first.length <= size),
  );
  const digits = [first, ...threes].join('');
  if (!isGrouped || first === '' || more.length > 0 || !/^\d+$/.test(`${digits}${part}`)) return null;
  return { value: Number(`${whole.startsWith('-') ? '-' : ''}${digits}.${part || 0}`), places: part.length };
}

/** A number for a field, as the reader would type it: without marks between thousands. @example writeNumber(4400.5) is '4400.5' */
export const writeNumber = (value: number, places: { least?: number; most?: number } = {}): string =>
  numberFormat({
    useGrouping: false,
    minimumFractionDigits: places.least ?? 0,
    maximumFractionDigits: places.most ?? 15,
  }).format(value);

/** A share in whole per cent. @example sayPercent(0.3) is '30 %' */
export const sayPercent = (share: number): string =>
  `${numberFormat({ maximumFractionDigits: 0 }).format(share * 100)} %`;
