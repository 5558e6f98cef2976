import type { PlainDate } from '@kettle/contract';
import { addDays } from '../time';
import { type DayInText, daysInText, folded, isMonthName } from './days-in-text';

const before = (...words: readonly string[]) =>
  new RegExp(String.raw`(?<!\p{L})(?:${words.join('|')})\s*$`, 'u');

/** What stands right before the last day away, whatever came before. */
const untilWords = before(
  'until|till?|up to|up to and including|through|thru|up until',
  'bis(?: einschlieslich| einschl\\.| inkl\\.| inklusive)?(?: zum)?',
  'tot(?: en met)?|t/m|tem',
  "jusqu'(?:au|a)|jusque(?: au)?",
  'hasta(?: el)?',
  'ate(?: ao?)?',
  '(?:fino|sino) a[l]?',
  'till(?: och med)?|t\\.? ?o\\.? ?m\\.?',
  'do',
);
/** What stands right before it when the first day stands before that: from … to. */
const toWords = before('to|au|al?|ao|e(?:t|n)?|und|and|o|as');
const dash = /[-–—]\s*$/u;
const startNumber =
  /(?<![\d/.])\d{1,2}(?:st|nd|rd|th|er|:e|\.)?\s*(?:to|[-–—]|bis|tot|au|al?|ao|till|do)\s*(?:zum )?$/u;

/** What says that somebody is there again on the day beside it. */
const backWords = [
  'back|return(?:s|ing)?|resum(?:e|es|ing)|reopen(?:s|ing)?|rejoin(?:s|ing)?|again',
  'wieder|zuruck|zuruckkehren',
  'weer|terug',
  'retour|de nouveau|nouveau|repren(?:ds|d|drai)|revien(?:s|drai)|rentre(?:rai)?',
  'vuelvo|vuelve|volvere|regres[oae]\\w*|reincorpor\\w+|de nuevo|nuevamente|de vuelta',
  'volt(?:o|a|arei)|regress[oa]\\w*|retorn[oa]\\w*|de volta|novamente',
  'rientr\\w+|torn(?:o|ero|a)|ritorn\\w+|di nuovo|nuovamente',
  'ater|tillbaka|igen',
  'wrac\\w+|wroc\\w+|powr\\w+|ponownie|znow\\w*',
].join('|');
/** The same of words that a "not" turns into their opposite. */
const thereWords = [
  'available|reachable',
  'erreichbar|fur sie da|im buro',
  'bereikbaar|aanwezig',
  'joignable|disponible',
  'disponivel',
  'disponibile|raggiungibile',
  'tillganglig|nabar|pa plats',
  'dostepn\\w+',
].join('|');
const not = '(?:not|nicht|niet|ne|pas|no|nao|non|inte|nie|ej|kein\\w*|geen)';
const isBack = new RegExp(String.raw`(?<!\p{L})(?:${backWords})(?!\p{L})`, 'u');
const isThere = new RegExp(String.raw`(?<!\p{L})(?<!${not} (?:\p{L}+ )?)(?:${thereWords})(?!\p{L})`, 'u');

/** The day away that is believed latest; longer than a year is no answer to when to try again. */
const longestDays = 400;
const mostText = 4000;
/** A return that follows so soon after a last day belongs to the same absence. */
const sameAbsenceDays = 5;

/**
 * The last day that an automatic reply says its writer is away; null when it names none. "Back on Monday 7 December" means away to
 * the 6th; "until 4 December" to the 4th. Only days that stand as a return or as an end count, and of several absences the first
 * that is not over.
 * @param receivedOn the day it came, by the writer's clock
 * @param country of the writer, by which the order of day and month is read
 * @example absenceUntil('Back on Monday 7 December 2026.', '2026-11-24', 'GB') // '2026-12-06'
 */
export function absenceUntil(text: string, receivedOn: PlainDate, country = 'GB'): PlainDate | null {
  const cut = text.slice(0, mostText);
  const words = folded(cut);
  const days = daysInText(words, { on: receivedOn, country });
  const ends = days.flatMap((each, index) => {
    const until = untilOf(words, cut, days, index);
    const isBelieved = until !== null && until >= receivedOn && until <= addDays(receivedOn, longestDays);
    return isBelieved && each ? [until] : [];
  });
  const [first, ...later] = ends;
  if (first === undefined) return null;
  return later.find((each) => each > first && each <= addDays(first, sameAbsenceDays)) ?? first;
}

function untilOf(words: string, text: string, days: readonly DayInText[], index: number): PlainDate | null {
  const { from, to, day } = days[index]!;
  const start = sentenceStart(text, from);
  const lead = words
    .slice(start, from)
    .replace(/(?<!\p{L})(?:the|den|dem|der|le|el|il|dia|dnia|d)\.?\s*$/u, '');
  const isSecond = index > 0 && days[index - 1]!.to > start;
  if (untilWords.test(lead) || startNumber.test(lead)) return day;
  if (isSecond && (toWords.test(lead) || dash.test(lead))) return day;
  const near = words.slice(Math.max(start, isSecond ? days[index - 1]!.to : start, from - 80), from);
  const end = Math.min(sentenceEnd(text, to), days[index + 1]?.from ?? words.length, to + 80);
  const after = words.slice(to, end);
  const said = (part: string) => isBack.test(part) || isThere.test(part);
  return said(near) || said(after) ? addDays(day, -1) : null;
}

const sentenceEnds = /[.!?;](?=\s+(?<next>\p{Lu}\p{L}*))|\n\s*\n/gu;

function sentenceStart(text: string, at: number): number {
  return Math.max(0, ...endsIn(text).filter((end) => end < at));
}

function sentenceEnd(text: string, at: number): number {
  return endsIn(text).find((end) => end > at) ?? text.length;
}

/** Where sentences end: at a mark before a capital, and at an empty line; not inside of `4. Dezember`. */
function endsIn(text: string): number[] {
  return [...text.matchAll(sentenceEnds)].flatMap(({ index, groups }) => {
    const isOrdinal = /\d/.test(text[index - 1] ?? '') && isMonthName(groups?.next ?? '');
    return isOrdinal ? [] : [index + 1];
  });
}
