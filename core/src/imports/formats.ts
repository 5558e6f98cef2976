import type { DateOrder, DecimalMark, FileFormats } from '@kettle/contract/imports/kinds';
import { minorOf, placesOf } from '../money';

const monthNames = new Map<string, number>();
const bare = (word: string) =>
  word
    .normalize('NFD')
    .replace(/[\u0300-\u036f.]/g, '')
    .toLowerCase();
for (const language of ['en', 'de', 'nl', 'fr', 'es', 'pt', 'it', 'sv', 'pl'])
  for (const month of ['short', 'long'] as const)
    for (let at = 0; at < 12; at += 1) {
      const name = new Intl.DateTimeFormat(language, { month, timeZone: 'UTC' }).format(
        Date.UTC(2026, at, 1),
      );
      monthNames.set(bare(name), at + 1);
      // As it is written beside a day: “listopada” beside “listopad”.
      const beside = new Intl.DateTimeFormat(language, { month, day: 'numeric', timeZone: 'UTC' })
        .formatToParts(Date.UTC(2026, at, 1))
        .find(({ type }) => type === 'month');
      if (beside !== undefined) monthNames.set(bare(beside.value), at + 1);
    }

const dateOf = (year: number, month: number, day: number): string | null => {
  const whole = year < 100 ? year + (year < 70 ? 2000 : 1900) : year;
  const date = new Date(Date.UTC(whole, month - 1, day));
  const isReal = whole >= 1900 && date.getUTCMonth() === month - 1 && date.getUTCDate() === day;
  return isReal ? date.toISOString().slice(0, 10) : null;
};

/**
 * Reads a day as files write it: ISO 8601 always, figures in the order that is said, and months by name in the languages of exports. A time
 * of day behind it is passed over; a year of two figures is one from 1970 to 2069 (as POSIX reads it, nearly: common practice).
 * @returns `2026-11-24`, or null when it is no day
 * @example readFileDate('24.11.26', 'dmy') is '2026-11-24'; readFileDate('11/24/2026', 'dmy') is null
 */
export function readFileDate(text: string, order: DateOrder): string | null {
  const day = text.trim().replace(/[T\s]+\d{1,2}:\d{2}.*$/, '');
  const iso = /^(\d{4})[-/.](\d{1,2})[-/.](\d{1,2})$/.exec(day);
  if (iso) return dateOf(Number(iso[1]), Number(iso[2]), Number(iso[3]));
  const figures = /^(\d{1,4})\s?[-/. ]\s?(\d{1,2})\s?[-/. ]\s?(\d{1,4})\.?$/.exec(day);
  if (figures) {
    const [a, b, c] = [Number(figures[1]), Number(figures[2]), Number(figures[3])];
    if (order === 'ymd') return dateOf(a, b, c);
    return order === 'dmy' ? dateOf(c, b, a) : dateOf(c, a, b);
  }
  const words = bare(day)
    .split(/[\s,/-]+/)
    .filter((word) => word !== '' && word !== 'de');
  const named = words.findIndex((word) => monthNames.has(word));
  if (words.length !== 3 || named < 0 || named > 1) return null;
  const rest = words
    .filter((_, at) => at !== named)
    .map((word) => Number(word.replace(/(st|nd|rd|th)$/, '')));
  return rest.every((each) => Number.isInteger(each))
    ? dateOf(rest[1]!, monthNames.get(words[named]!)!, rest[0]!)
    : null;
}

/**
 * Reads a number as files write it. A mark that cannot part thousands stands before the places, whatever is said: “12.5” is twelve and a half
 * in a file that writes 1.234,50 too.
 * @returns the number and how many places it has; null when it is none
 * @example readFileNumber('1.234,5', 'comma') is { value: 1234.5, places: 1 }; readFileNumber('1.234,5', 'point') is null
 */
export function readFileNumber(
  text: string,
  mark: DecimalMark,
): { readonly value: number; readonly places: number } | null {
  const plain = text.replace(/[\s\u00a0\u202f'’]/g, '').replace(/[−–]/g, '-');
  const signed = /^(\(|-)?\+?([\d.,]+)(\)|-)?$/.exec(plain);
  if (!signed || (signed[1] === '(') !== (signed[3] === ')')) return null;
  const size = signed[2]!;
  const digits = wholeAndPlaces(size, mark);
  if (digits === null) return null;
  const value = Number(digits.places === '' ? digits.whole : `${digits.whole}.${digits.places}`);
  const isMinus = signed[1] !== undefined || signed[3] === '-';
  return { value: isMinus && value !== 0 ? -value : value, places: digits.places.length };
}

function wholeAndPlaces(size: string, mark: DecimalMark) {
  const [decimal, group] = mark === 'point' ? ['.', ','] : [',', '.'];
  const parts = size.split(decimal);
  const grouped = new RegExp(
    `^(\\d{1,3}(\\${group}\\d{3})+|\\d{1,2}(\\${group}\\d{2})+\\${group}\\d{3}|\\d+)$`,
  );
  if (parts.length <= 2 && grouped.test(parts[0]!) && /^\d*$/.test(parts[1] ?? ''))
    return { whole: parts[0]!.replaceAll(group, ''), places: parts[1] ?? '' };
  // The only mark there is, where thousands cannot be.
  const other = /^(\d+)[.,](\d+)$/.exec(size);
  return other !== null && other[2]!.length !== 3 ? { whole: other[1]!, places: other[2]! } : null;
}

/**
 * Reads an amount as files write it into minor units of its currency: with or without the currency's code or sign, in brackets for less than
 * nothing, with `k` for thousands.
 * @returns null when it is none, names another currency by its code, or has more places than the currency
 * @example readFileAmount('€ 4.400,50', 'EUR', 'comma') is 440050
 */
export function readFileAmount(text: string, currency: string, mark: DecimalMark): number | null {
  const code = /[A-Z]{3}/.exec(text)?.[0];
  if (code !== undefined && code !== currency) return null;
  const isThousands = /\dk\b/i.test(text);
  const read = readFileNumber(text.replace(/[A-Za-z$€£¥₣₤₹₽₺₩฿\p{Sc}]+\.?/gu, ''), mark);
  if (read === null) return null;
  const zeros = /\.(\d*?)0*$/.exec(String(read.value))?.[1]?.length ?? 0;
  if (!isThousands && Math.min(read.places, zeros) > placesOf(currency)) return null;
  return minorOf(isThousands ? Number(`${read.value}e3`) : read.value, currency);
}

/**
 * How a file writes days and numbers, as far as its cells tell: a figure above 12 is no month, and a mark before two places or behind
 * another one is a decimal one. What they leave open is as the organisation writes.
 */
export function guessFormats(cells: readonly string[], usual: FileFormats): FileFormats {
  const votes = { dmy: 0, mdy: 0, point: 0, comma: 0 };
  for (const cell of cells) {
    const day = /^\s*(\d{1,4})[-/.](\d{1,2})[-/.](\d{1,4})\b/.exec(cell);
    if (day) {
      const [a, b] = [Number(day[1]), Number(day[2])];
      // A year of four figures in front is read whatever is said.
      if (day[1]!.length === 4) continue;
      if (a > 12 && b <= 12) votes.dmy += 1;
      else if (b > 12 && a <= 12) votes.mdy += 1;
      continue;
    }
    const number = /^[^\d]{0,6}([\d.,'’\s\u00a0\u202f]*\d)[^\d]{0,6}$/.exec(cell)?.[1];
    const last = number === undefined ? null : /([.,])(\d+)$/.exec(number);
    if (!last || number === undefined) continue;
    const hasBoth = number.includes('.') && number.includes(',');
    if (hasBoth || last[2]!.length !== 3) votes[last[1] === '.' ? 'point' : 'comma'] += 1;
  }
  const { dmy, mdy, point, comma } = votes;
  return {
    dates: dmy === mdy ? usual.dates : dmy > mdy ? 'dmy' : 'mdy',
    numbers: point === comma ? usual.numbers : point > comma ? 'point' : 'comma',
  };
}
