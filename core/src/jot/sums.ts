import type { JotReading } from '@kettle/contract';
import { minorOf } from '../money';

const currencies: readonly (readonly [RegExp, string])[] = [
  [/£|\b(?:gbp|pounds?|quid)\b/i, 'GBP'],
  [/€|\b(?:eur|euros?)\b/i, 'EUR'],
  [/\$|\b(?:usd|dollars?)\b/i, 'USD'],
];

const amount =
  /(?:(?<before>[£€$]|\b(?:gbp|eur|usd)\b)\s?)?(?<figure>\d{1,3}(?:[ ,.]\d{3})+(?:[.,]\d{1,2})?|\d+(?:[.,]\d{1,2})?)\s?(?<thousand>k\b)?(?:\s?(?<behind>[£€$]|\b(?:gbp|eur|usd|pounds?|quid|euros?|dollars?)\b))?/giu;

/**
 * The first sum of money in a line, as it is written there: a figure alone is none.
 * @example amountIn('pays £4,400 a year') is { minor: 440000, currency: 'GBP' }
 */
export function amountIn(text: string): (NonNullable<JotReading['amount']> & Span) | null {
  for (const match of text.matchAll(amount)) {
    const { before, figure, thousand, behind } = match.groups!;
    const sign = before ?? behind;
    if (sign === undefined) continue;
    const currency = currencies.find(([pattern]) => pattern.test(sign))![1];
    const [, whole = '', cents = ''] = /^(.*?)(?:[.,](\d{1,2}))?$/.exec(figure!)!;
    const major = Number(`${whole.replace(/[ ,.]/g, '')}.${cents || '0'}`) * (thousand ? 1000 : 1);
    const start = match.index;
    return { minor: minorOf(major, currency), currency, start, end: start + match[0].length };
  }
  return null;
}

export interface Span {
  readonly start: number;
  readonly end: number;
}

const counts: Readonly<Record<string, number>> = { a: 1, an: 1, one: 1, two: 2, three: 3, four: 4 };
const length =
  /(?:\bfor (?:about )?)?\b(?:(?<half>half an hour)|(?<count>\d+(?:[.,]\d)?|an?|one|two|three|four)[ -]?(?<unit>minutes?|mins?|min|hours?|hrs?|h)\b)(?: long)?/giu;

/**
 * How long something took, in minutes. A figure without its unit is none, and "in 20 minutes" lies ahead.
 * @example lengthIn('spoke to her for half an hour') is { minutes: 30 }
 */
export function lengthIn(text: string): (Span & { readonly minutes: number }) | null {
  for (const match of text.matchAll(length)) {
    const { half, count, unit } = match.groups!;
    if (
      /\bin\s*$/i.test(text.slice(0, match.index)) ||
      /^\s+ago\b/i.test(text.slice(match.index + match[0].length))
    )
      continue;
    const each = half ? 30 : (counts[count!.toLowerCase()] ?? Number(count!.replace(',', '.')));
    const minutes = half ? each : /^h/i.test(unit!) ? each * 60 : each;
    if (minutes > 0 && minutes <= 720)
      return { minutes: Math.round(minutes), start: match.index, end: match.index + match[0].length };
  }
  return null;
}
