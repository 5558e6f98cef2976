import { kaplanMeier, shareOf, type Share } from '../stats';
import type { TouchEntry } from '../touch';

/** One unanswered try, and for how long it is known what followed. */
export interface AnswerCase {
  /** Unanswered tries in a row up to and including this one. */
  readonly tries: number;
  readonly answered: boolean;
  /** Days to the answer, or for which none has come; 30 at most. */
  readonly days: number;
}

export const answerWindowDays = 30;
const mostTries = 12;
const dayMillis = 86_400_000;

/**
 * The cases one person's journal holds: after each unanswered try, how long until a conversation came, or for how long none has. A try
 * that is younger than 30 days is a case as far as it goes: left out, only the answered ones of the young would count.
 */
export function answerCases(
  entries: readonly Pick<TouchEntry, 'at' | 'counts'>[],
  now: string,
): AnswerCase[] {
  const inOrder = entries
    .filter(({ counts }) => counts !== 'none')
    .sort((a, b) => (a.at < b.at ? -1 : a.at > b.at ? 1 : 0));
  const conversations = inOrder.filter(({ counts }) => counts === 'conversation').map(({ at }) => at);
  const cases: AnswerCase[] = [];
  let tries = 0;
  let next = 0;
  for (const { at, counts } of inOrder) {
    if (counts === 'conversation') {
      tries = 0;
      continue;
    }
    tries += 1;
    while (next < conversations.length && conversations[next]! <= at) next += 1;
    const gap = (until: string) => (Date.parse(until) - Date.parse(at)) / dayMillis;
    const waited = gap(conversations[next] ?? now);
    const answered = next < conversations.length && waited <= answerWindowDays;
    cases.push({ tries: Math.min(tries, mostTries), answered, days: Math.min(waited, answerWindowDays) });
  }
  return cases;
}

/**
 * P(answer within 30 days | so many unanswered tries), with its Wilson interval; tries beyond twelve count as twelve.
 * Null when nobody was ever tried that often.
 */
export function chanceOfAnswer(
  tallies: readonly { readonly tries: number; readonly cases: number; readonly answered: number }[],
  tries: number,
): Share | null {
  const found = tallies.find((tally) => tally.tries === Math.min(Math.max(1, tries), mostTries));
  return found === undefined || found.cases === 0 ? null : shareOf(found.answered, found.cases);
}

/**
 * For each number of tries the chance of an answer within 30 days by Kaplan-Meier, as so many answered of so many cases: the size is that
 * of a sample without young tries that would be known as well, so that its Wilson interval holds.
 * @see Peto et al., Br. J. Cancer 35 (1977), 1-39, for the effective size: cases at risk over the share that survives
 */
export function tallyAnswers(
  cases: readonly AnswerCase[],
): { tries: number; cases: number; answered: number }[] {
  const byTries = new Map<number, AnswerCase[]>();
  for (const each of cases) {
    const known = byTries.get(each.tries);
    if (known) known.push(each);
    else byTries.set(each.tries, [each]);
  }
  return [...byTries]
    .sort(([one], [other]) => one - other)
    .map(([tries, list]) => {
      const points = kaplanMeier(list.map(({ days, answered }) => ({ time: days, happened: answered })));
      const survival = points.at(-1)?.survival ?? 1;
      const wholly = list.filter(({ days, answered }) => answered || days >= answerWindowDays).length;
      const waiting = list.filter(({ days, answered }) => !answered && days >= answerWindowDays).length;
      const size = survival === 0 ? list.length : waiting > 0 ? Math.round(waiting / survival) : wholly;
      return { tries, cases: Math.min(size, list.length), answered: Math.round((1 - survival) * size) };
    });
}

/** Fewer cases than this say nothing about whether to stop. */
const fewestCases = 30;
const hopeless = 0.05;

/** Whether to let go: when even the upper end of the chance is small, or nothing was heard for far longer than usual. */
export function advise(
  chance: Share | null,
  days: { readonly open: number; readonly usual: number | null },
): 'go on' | 'consider letting go' | 'too little known' {
  const isLong = days.usual !== null && days.open > 2 * days.usual;
  if (chance === null || chance.whole < fewestCases)
    return isLong ? 'consider letting go' : 'too little known';
  return chance.high < hopeless || (isLong && chance.rate < 2 * hopeless) ? 'consider letting go' : 'go on';
}
