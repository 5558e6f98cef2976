import type { Channel } from '@kettle/contract';
import { differenceOf, fisherTest, shareOf, shrunkRate, totalOf, weightOf, type Share } from '../stats';
import type { HourTally } from '../touch';

/** What became of one step of one run. */
export interface StepFact {
  readonly step: number;
  readonly channel: Channel;
  /** Which template was used; null without one. */
  readonly variant: string | null;
  readonly acted: boolean;
  readonly answered: boolean;
}

export interface ArmResult {
  /** Runs that came to it. */
  readonly reached: number;
  /** Of those, where it was done. */
  readonly acted: Share;
  /** Of those where it was done, where an answer came before the next step was. */
  readonly answered: Share;
}

/** Results by whatever the key names (a step, a channel, a variant), in the order in which keys first appear. */
export function resultsBy<Key>(
  facts: readonly StepFact[],
  keyOf: (fact: StepFact) => Key,
): Map<Key, ArmResult> {
  const groups = new Map<Key, StepFact[]>();
  for (const fact of facts) {
    const key = keyOf(fact);
    const group = groups.get(key);
    if (group) group.push(fact);
    else groups.set(key, [fact]);
  }
  return new Map([...groups].map(([key, group]) => [key, resultOf(group)]));
}

function resultOf(facts: readonly StepFact[]): ArmResult {
  const acted = facts.filter((fact) => fact.acted);
  const answered = acted.filter((fact) => fact.answered);
  return {
    reached: facts.length,
    acted: shareOf(acted.length, facts.length),
    answered: shareOf(answered.length, acted.length),
  };
}

/** No verdict before each arm has this many cases. */
export const leastCases = 30;

export type Verdict =
  /** Too few cases: how many more the two arms need together. */
  | { readonly kind: 'thin'; readonly more: number }
  /** Enough cases, and no difference that chance would not make; `more` would settle it if it stayed as it is. */
  | {
      readonly kind: 'open';
      readonly more: number | null;
      readonly p: number;
      readonly low: number;
      readonly high: number;
    }
  | {
      readonly kind: 'clear';
      readonly better: 'first' | 'second';
      readonly p: number;
      readonly low: number;
      readonly high: number;
    };

/**
 * Whether one of two variants earns more answers: Newcombe's interval for the difference and Fisher's exact test at 5 %,
 * and no verdict before each has 30 cases.
 */
export function compareVariants(first: Share, second: Share): Verdict {
  const missing = [first, second].map(({ whole }) => Math.max(0, leastCases - whole));
  if (missing.some((count) => count > 0)) return { kind: 'thin', more: missing[0]! + missing[1]! };
  const { difference, low, high } = differenceOf(first, second);
  const { twoSided: p } = fisherTest({
    first: [first.part, first.whole - first.part],
    second: [second.part, second.whole - second.part],
  });
  if (p < 0.05) return { kind: 'clear', better: difference > 0 ? 'first' : 'second', p, low, high };
  const needed = casesNeeded(first.rate, second.rate);
  const more =
    needed === null ? null : [first, second].reduce((sum, arm) => sum + Math.max(0, needed - arm.whole), 0);
  return { kind: 'open', more, p, low, high };
}

/** Normal points for two-sided 5 % and for a chance of 80 % to see the difference. */
const z = { alpha: 1.959963984540054, power: 0.8416212335729143 };

/**
 * Cases in each arm that show a difference of these two rates four times in five; null when there is none to show.
 * Example: 60 % and 70 % need 356 each.
 * @see Fleiss, Statistical Methods for Rates and Proportions (1981), formula 3.14
 */
export function casesNeeded(first: number, second: number): number | null {
  if (first === second) return null;
  const mean = (first + second) / 2;
  const spread =
    z.alpha * Math.sqrt(2 * mean * (1 - mean)) +
    z.power * Math.sqrt(first * (1 - first) + second * (1 - second));
  return Math.ceil((spread / (first - second)) ** 2);
}

/** One run as a row of tries: how many were made, and after which of them the first answer came. */
export interface RunTries {
  readonly tries: number;
  readonly answeredAfter: number | null;
}

/** For the k-th try (the first is at 0): of those who had not answered before it and got it, how many answered to it. */
export function answersByTry(runs: readonly RunTries[]): Share[] {
  const most = Math.max(0, ...runs.map((run) => run.tries));
  return Array.from({ length: most }, (_, index) => {
    const still = runs.filter(
      ({ tries, answeredAfter }) => tries > index && (answeredAfter === null || answeredAfter > index),
    );
    return shareOf(still.filter((run) => run.answeredAfter === index + 1).length, still.length);
  });
}

export interface HourRate extends HourTally {
  /** The answer rate, drawn towards the channel's own while tries are few. */
  readonly rate: number;
}

/** Answer rates by weekday and hour, shrunk towards the rate of their channel, and that towards the one of all. */
export function bestHours(tallies: readonly HourTally[]): HourRate[] {
  const all = totalOf(tallies);
  const allRate = all.tried === 0 ? 0 : all.answered / all.tried;
  const channels = [...new Set(tallies.map((tally) => tally.channel))];
  const byChannel = channels.map((channel) => totalOf(tallies.filter((tally) => tally.channel === channel)));
  const channelWeight = weightOf(byChannel);
  const rates = channels.flatMap((channel, index) => {
    const wider = shrunkRate(byChannel[index]!, allRate, channelWeight);
    const own = tallies.filter((tally) => tally.channel === channel);
    const weight = weightOf(own);
    return own.map((tally): HourRate => ({ ...tally, rate: shrunkRate(tally, wider, weight) }));
  });
  return rates.sort(
    (a, b) => b.rate - a.rate || b.tried - a.tried || a.weekday - b.weekday || a.hour - b.hour,
  );
}
