import type { Channel, Instant, Outcome, PlainDate, Proposal } from '@kettle/contract';
import { channelKindOf, channelsThat } from '@kettle/contract/base/channels';
import { sayCount, sayPercent } from '../locale';
import {
  addWorkingDays,
  isoWeekday,
  localDate,
  localMinute,
  onOrAfterWorkingDay,
  sayMinute,
  type WorkingCalendar,
} from '../time';
import { type AnswerRates, type BestHour, bestHoursOf, isOpenAt, leastBetter } from './answer-rates';
import { bestChannelOf, sayBestHour } from './say-answers';

export interface ProposalFacts {
  readonly outcome: Outcome;
  readonly contact: WorkingCalendar;
  readonly now: Instant;
  /** Unanswered tries since the last conversation, this one included, by channel. */
  readonly attempts: ReadonlyMap<Channel, number>;
  /** Channels the person can be reached on, as far as is known, and does not forbid. */
  readonly reachable: ReadonlySet<Channel>;
  /** Channels the person does not want. */
  readonly unwanted: ReadonlySet<Channel>;
  /** What is known of when and how they answer. */
  readonly rates: AnswerRates;
  /** The chance that one more try is answered within 30 days; null while nobody was tried so often. */
  readonly odds: Odds | null;
  /** How long each way usually takes. */
  readonly minutes: Readonly<Record<Channel, number>>;
  /** What the cadence would do after this outcome; null when none is running or it would end. */
  readonly runNext: { readonly channel: Channel; readonly on: PlainDate; readonly words: string } | null;
}

/** A chance, 0 to 1, with its interval of 95 % and the cases it rests on. */
export interface Odds {
  readonly rate: number;
  readonly low: number;
  readonly high: number;
  readonly cases: number;
}

/** So many working days are looked at for a better hour. */
const daysToChooseFrom = 3;
/** Working days until the follow-up after each rule, before weekends and holidays are counted out. */
const waits = { followUp: 3, retry: 1, retryChanged: 2, awaitAnswer: 3, newDate: 5, fixDetails: 0 };
const triesBeforeChange = 2;
const noon = 12 * 60;
/** Other ways to reach somebody, in the order in which they are tried. */
const instead = [...channelsThat(({ insteadAt }) => insteadAt !== null)].sort(
  (a, b) => channelKindOf(a).insteadAt! - channelKindOf(b).insteadAt!,
);

/**
 * The proposed next step after an outcome: channel, day and why. Rules of the trade: a running cadence goes on; after two unanswered tries
 * on one channel change it, to the one that they answer most; call again at another time of day, in the hour in which calls are answered
 * most; once every way was tried, park it or stop; a missed meeting or an engaged line is called the same day; somebody not interested is
 * left alone.
 */
export function proposeNextStep(facts: ProposalFacts): Proposal {
  const { outcome, runNext } = facts;
  if (runNext !== null && !outcome.endsRun) {
    const { channel, on, words } = runNext;
    return { step: { kind: 'run' }, channel, on, words, why: $localize`the cadence goes on` };
  }
  switch (outcome.rule) {
    case 'follow-up':
      return task(
        facts,
        'call',
        waits.followUp,
        $localize`follow up on the ${spoken(outcome.kind)}:kind:`,
        $localize`three working days keep it warm`,
      );
    case 'same-day':
      return sameDay(facts);
    case 'retry':
      return retry(facts);
    case 'await-answer':
      return task(
        facts,
        'call',
        waits.awaitAnswer,
        $localize`ask whether the ${spoken(outcome.kind)}:kind: arrived`,
        $localize`no answer in three working days: call`,
      );
    case 'agree-new-date':
      return task(
        facts,
        'call',
        waits.newDate,
        $localize`call again, as they asked`,
        $localize`a week, unless they named a day`,
      );
    case 'fix-details':
      return task(
        facts,
        'other',
        waits.fixDetails,
        $localize`find the right number or address`,
        $localize`nothing reaches them until it is put right`,
      );
    case 'nothing':
      return {
        step: { kind: 'none', reason: outcome.label },
        channel: null,
        on: null,
        words: $localize`Nothing more`,
        why: $localize`they said no`,
      };
  }
}

function sameDay(facts: ProposalFacts): Proposal {
  if (facts.outcome.direction === 'in')
    return task(
      facts,
      'email',
      0,
      $localize`answer their ${spoken(facts.outcome.kind)}:kind:`,
      $localize`they wrote: an answer today is worth most`,
    );
  return task(facts, 'call', 0, $localize`try again today`, $localize`still reachable today`);
}

function retry(facts: ProposalFacts): Proposal {
  const tried = facts.outcome.kind;
  const tries = facts.attempts.get(tried) ?? 1;
  if (tries >= triesBeforeChange) {
    const others = instead.filter((channel) => channel !== tried && facts.reachable.has(channel));
    const changed = bestChannelOf(
      others.filter((channel) => (facts.attempts.get(channel) ?? 0) < triesBeforeChange),
      facts.rates,
    );
    if (changed !== null) {
      const known =
        changed.known === null
          ? ''
          : $localize`; by ${spoken(changed.channel)}:channel: ${sayPercent(changed.known.rate)}:rate: answer`;
      return task(
        facts,
        changed.channel,
        waits.retryChanged,
        $localize`reach them by ${spoken(changed.channel)}:changed: instead`,
        `${$localize`${sayCount(tries, 'try|tries')}:tries: by ${spoken(tried)}:tried: without an answer: change the channel`}${known}`,
      );
    }
    if (others.length > 0) return letRest(facts);
  }
  const best = nextBest(facts);
  if (best !== null) {
    const { hour, waitDays } = best;
    return task(
      facts,
      tried,
      waitDays,
      $localize`try between ${sayMinute(hour.hour * 60)}:from: and ${sayMinute(hour.hour * 60 + 60)}:to:`,
      $localize`then ${sayBestHour(hour)}:rates:`,
    );
  }
  const isMorning = localMinute(facts.now, facts.contact.zone) < noon;
  return task(
    facts,
    tried,
    waits.retry,
    isMorning ? $localize`try in the afternoon` : $localize`try in the morning`,
    $localize`another time of day`,
  );
}

/** The best hour of the next working days: a later day only when it is as much better as an hour has to be to be spoken of. */
function nextBest(facts: ProposalFacts): { readonly hour: BestHour; readonly waitDays: number } | null {
  const today = localDate(facts.now, facts.contact.zone);
  const hours = bestHoursOf(facts.outcome.kind, facts.rates, mayTryAt(facts));
  let best: { hour: BestHour; waitDays: number } | null = null;
  for (let waitDays = waits.retry; waitDays < waits.retry + daysToChooseFrom; waitDays++) {
    const weekday = isoWeekday(addWorkingDays(today, waitDays, facts.contact));
    const hour = hours.find((each) => each.weekday === weekday);
    if (hour === undefined) continue;
    if (best === null || hour.rate >= best.hour.rate * leastBetter) best = { hour, waitDays };
  }
  return best;
}

/** Within the hours of whoever is tried, and not at the hour at which it was just in vain. */
function mayTryAt({ now, contact }: ProposalFacts): (weekday: number, hour: number) => boolean {
  const triedAt = Math.floor(localMinute(now, contact.zone) / 60);
  const isOpen = isOpenAt(contact);
  return (weekday, hour) => isOpen(weekday, hour) && Math.abs(hour - triedAt) > 1;
}

/** Every way was tried in vain: not for ever, and not without saying what the next try would be worth. */
function letRest({ attempts, odds }: ProposalFacts): Proposal {
  const tried = [...attempts]
    .filter(([, tries]) => tries > 0)
    .map(([channel, tries]) => `${sayCount(tries, 'try|tries')} by ${spoken(channel)}`)
    .join(', ');
  const chance =
    odds === null
      ? $localize`nobody was tried so often yet`
      : $localize`the next try is answered within 30 days in ${sayPercent(odds.rate)}:rate: (${sayPercent(odds.low)}:low: to ${sayPercent(odds.high)}:high:, ${sayCount(odds.cases, 'case|cases')}:cases:)`;
  return {
    step: { kind: 'none', reason: $localize`every way was tried: ${tried}:tried:` },
    channel: null,
    on: null,
    words: $localize`Park it, or stop: every way was tried`,
    why: `${tried}; ${chance}`,
  };
}

function task(facts: ProposalFacts, wanted: Channel, days: number, purpose: string, why: string): Proposal {
  const reachable = reachedBy(facts);
  const channel = pickReachable(wanted, reachable);
  const today = localDate(facts.now, facts.contact.zone);
  const isOther = channel !== wanted;
  const on =
    days === 0 ? onOrAfterWorkingDay(today, facts.contact) : addWorkingDays(today, days, facts.contact);
  return {
    step: {
      kind: 'task',
      channel,
      dueOn: on,
      promisedMinute: null,
      purpose,
      minutes: facts.minutes[channel],
    },
    channel,
    on,
    words: `${channelKindOf(channel).verb}: ${purpose}`,
    why: isOther ? `${why}; ${whyNot(facts, wanted)}` : why,
  };
}

/** Who was just spoken to on a channel can be reached on it, whatever is written down of them. */
function reachedBy({ outcome, reachable, unwanted }: ProposalFacts): ReadonlySet<Channel> {
  const isProof = outcome.counts === 'conversation' && !unwanted.has(outcome.kind);
  return isProof ? new Set([...reachable, outcome.kind]) : reachable;
}

function whyNot({ unwanted }: ProposalFacts, channel: Channel): string {
  const { needs } = channelKindOf(channel);
  if (unwanted.has(channel)) return $localize`they do not want to be reached by ${spoken(channel)}:channel:`;
  return needs === 'phone' ? $localize`no telephone number is known` : $localize`no e-mail address is known`;
}

/** As it stands within a sentence. @example spoken('email') is 'e-mail' */
const spoken = (channel: Channel) => channelKindOf(channel).label.toLowerCase();

function pickReachable(wanted: Channel, reachable: ReadonlySet<Channel>): Channel {
  if (wanted === 'other' || reachable.has(wanted)) return wanted;
  return (
    channelsThat(({ insteadAt }) => insteadAt !== null).find((channel) => reachable.has(channel)) ?? 'other'
  );
}
