import { shareOf, type Share } from '../stats';
import type { TouchEntry } from '../touch';

/** How often a conversation followed within the window, by the number of unanswered tries before the next one. */
export interface AnswerCase {
  /** Unanswered tries in a row up to and including this one. */
  readonly tries: number;
  readonly answered: boolean;
}

export const answerWindowDays = 30;
const mostTries = 12;
const dayMillis = 86_400_000;

/**
 * The cases one person's journal holds: after each unanswered try, whether a conversation came within 30 days. Tries whose
 * window is not over yet, and were not answered, tell nothing and are left out.
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
    const answered = next < conversations.length && gap(conversations[next]!) <= answerWindowDays;
    if (answered || gap(now) > answerWindowDays) cases.push({ tries: Math.min(tries, mostTries), answered });
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

export function tallyAnswers(
  cases: readonly AnswerCase[],
): { tries: number; cases: number; answered: number }[] {
  const tallies = new Map<number, { tries: number; cases: number; answered: number }>();
  for (const { tries, answered } of cases) {
    const tally = tallies.get(tries) ?? { tries, cases: 0, answered: 0 };
    tallies.set(tries, { tries, cases: tally.cases + 1, answered: tally.answered + (answered ? 1 : 0) });
  }
  return [...tallies.values()].sort((a, b) => a.tries - b.tries);
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
