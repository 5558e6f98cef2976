/** What is known of a customer whose term comes to its end. */
export interface RiskFacts {
  /** Terms that were decided, and those of them that were lost, in the organisation's last two years. */
  readonly decided: number;
  readonly lost: number;
  /** Days since the last conversation; null when there was none. */
  readonly quietDays: number | null;
  /** Days after which somebody of their standing is quiet. */
  readonly checkInDays: number;
  /** Letters of theirs that nobody answered. */
  readonly unanswered: number;
  readonly complaints: number;
  readonly termsBefore: number;
  /** Percent by which the next term costs more. */
  readonly upliftPercent: number;
  /** Somebody who decides is known. */
  readonly hasDecider: boolean;
  readonly contractedBefore: boolean;
}

export type RiskFactor =
  | 'quiet'
  | 'never-talked'
  | 'unanswered'
  | 'complaints'
  | 'first-term'
  | 'loyal'
  | 'dearer'
  | 'no-decider'
  | 'less-before';

export interface Risk {
  /** Chance that the customer leaves, 0 to 1. */
  readonly chance: number;
  /** Before anything is known of this customer. */
  readonly base: number;
  /** What multiplies the odds, the largest effect first. */
  readonly factors: readonly { readonly factor: RiskFactor; readonly times: number }[];
}

/** One lost of ten decided counts as known beforehand, so that the first ones decide nothing. */
const priorLost = 1;
const priorDecided = 10;

/**
 * The chance that a term is not renewed: odds of the organisation's own past, times one factor for each fact. What the factors are worth is
 * common practice, no source; each is shown with its number, so that whoever reads it can judge.
 * @example nothing known and nothing against them: 1 of 10, odds 1/9; quiet for twice the interval: times 2, odds 2/9, chance 18 %
 */
export function riskOf(facts: RiskFacts): Risk {
  const base = (facts.lost + priorLost) / (facts.decided + priorDecided);
  const factors: { factor: RiskFactor; times: number }[] = [];
  const add = (is: boolean, factor: RiskFactor, times: number) => {
    if (is) factors.push({ factor, times });
  };
  const late = facts.quietDays === null ? 0 : facts.quietDays / Math.max(1, facts.checkInDays);
  add(facts.quietDays === null, 'never-talked', 2);
  add(late > 1, 'quiet', Math.min(3, late));
  add(facts.unanswered > 0, 'unanswered', Math.min(3, 1 + 0.5 * facts.unanswered));
  add(facts.complaints > 0, 'complaints', Math.min(4, 1 + facts.complaints));
  add(facts.termsBefore === 0, 'first-term', 1.5);
  add(facts.termsBefore >= 3, 'loyal', 0.5);
  add(facts.upliftPercent > 5, 'dearer', Math.min(2, 1 + (facts.upliftPercent - 5) / 10));
  add(!facts.hasDecider, 'no-decider', 1.25);
  add(facts.contractedBefore, 'less-before', 1.75);
  const odds = factors.reduce((product, { times }) => product * times, base / (1 - base));
  const size = ({ times }: { times: number }) => Math.abs(Math.log(times));
  return {
    chance: odds / (1 + odds),
    base,
    factors: factors.sort((one, other) => size(other) - size(one)),
  };
}
