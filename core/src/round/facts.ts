import type { CandidateKind, Channel, Instant, PlainDate, Warmth } from '@kettle/contract';
import { sayMoney } from '../money';
import { sayCount } from '../locale';
import { daysBetween, minutesBetween } from '../time';
import type { Candidate, Decay, HorizonDay } from './candidate';
import type { HandPlace } from './hand';
import { decayOf, promiseWorth, type RoundSettings } from './decays';

/** What is known about one reason to act; `stake` facts are in minor units, days are whole. */
export type RoundFact = { readonly act: FactAct } & (
  | {
      readonly kind: 'task';
      readonly dueOn: PlainDate;
      readonly overdueDays: number;
      readonly promisedAt: Instant | null;
      readonly dealMinor: number;
      readonly purpose: string;
    }
  | {
      readonly kind: 'step';
      readonly dueOn: PlainDate;
      readonly lateDays: number;
      readonly spacingDays: number;
      readonly step: number;
      readonly steps: number;
      readonly dealMinor: number;
      readonly purpose: string;
    }
  | { readonly kind: 'reply'; readonly since: Instant; readonly dealMinor: number }
  /** A sign of life that nobody has followed up yet, in words. */
  | { readonly kind: 'stirring'; readonly at: Instant; readonly words: string; readonly dealMinor: number }
  | {
      readonly kind: 'quiet';
      readonly silenceDays: number;
      readonly intervalDays: number;
      readonly dueOn: PlainDate;
      readonly yearlyMinor: number;
    }
  | {
      readonly kind: 'renewal';
      readonly deadlineOn: PlainDate;
      readonly yearlyMinor: number;
      readonly name: string;
    }
  | {
      readonly kind: 'loose';
      readonly days: number;
      readonly patienceDays: number;
      readonly weightedMinor: number;
      readonly amountMinor: number;
      /** What the amount is in; left out, the organisation's own. */
      readonly currency?: string;
      readonly since: PlainDate;
    }
  | {
      readonly kind: 'stalled';
      readonly daysPast: number;
      readonly patienceDays: number;
      readonly weightedMinor: number;
      readonly amountMinor: number;
      /** What the amount is in; left out, the organisation's own. */
      readonly currency?: string;
      readonly stage: string;
      readonly since: PlainDate;
    }
  | {
      readonly kind: 'lead';
      /** Nobody has tried it yet, its follow-up has come, or nothing is planned with it at all. */
      readonly state: 'untried' | 'follow-up' | 'loose';
      /** Since when it waits for what it waits for. */
      readonly since: Instant;
      readonly lateDays: number;
      readonly subject: string;
      readonly source: string | null;
      readonly warmth: Warmth | null;
    }
  | {
      readonly kind: 'waking';
      readonly wakeOn: PlainDate;
      readonly lateDays: number;
      readonly weightedMinor: number;
      readonly reason: string;
    }
);

/** What to do about a fact, and with whom: the same for every kind. */
export interface FactAct {
  readonly key: string;
  readonly group: string;
  readonly channel: Channel;
  readonly minutes: number;
  readonly pinned: boolean;
  /** Where the hand put it today; left out, nowhere. */
  readonly hand?: HandPlace | null;
  readonly timesMoved: number;
  readonly reachable: readonly boolean[] | null;
  /** Nobody knows what it is worth: the organisation's median counts. */
  readonly isUsualValue?: boolean;
}

export interface FactSetting {
  readonly days: readonly HorizonDay[];
  readonly settings: RoundSettings;
  /** Free minutes of today before an instant. */
  readonly freeBefore: (at: Instant) => number;
}

/** Turns a fact into a candidate: its stake, how its chance falls, its due day and deadline. */
export function candidateOf(fact: RoundFact, setting: FactSetting): Candidate {
  const { act } = fact;
  const { stakeMinor, decay, dueOn } = worthOf(fact, setting.settings, setting.days[0]!.on);
  return {
    key: act.key,
    kind: fact.kind,
    group: act.group,
    channel: act.channel,
    stakeMinor,
    minutes: act.minutes,
    decay,
    dueOn,
    fixedAfterMinutes:
      fact.kind === 'task' && fact.promisedAt !== null ? setting.freeBefore(fact.promisedAt) : null,
    deadlineDay: fact.kind === 'renewal' ? lastDayUpTo(setting.days, fact.deadlineOn) : null,
    reachable: act.reachable,
    pinned: act.pinned,
    timesMoved: act.timesMoved,
    ...(act.isUsualValue && { isUsualValue: true }),
    hand: act.hand ?? null,
  };
}

function worthOf(
  fact: RoundFact,
  settings: RoundSettings,
  today: PlainDate,
): { stakeMinor: number; decay: Decay; dueOn: PlainDate } {
  switch (fact.kind) {
    case 'task':
      return {
        stakeMinor: Math.max(fact.dealMinor, promiseWorth(settings)),
        decay: decayOf.task(settings, fact.overdueDays),
        dueOn: fact.dueOn,
      };
    case 'step':
      return {
        stakeMinor: fact.dealMinor || settings.leadMinor,
        decay: decayOf.step(settings, fact.lateDays, fact.spacingDays),
        dueOn: fact.dueOn,
      };
    case 'reply':
      return {
        stakeMinor: fact.dealMinor || settings.leadMinor,
        decay: decayOf.reply(settings),
        dueOn: today,
      };
    case 'stirring':
      return {
        stakeMinor: fact.dealMinor || settings.leadMinor,
        decay: decayOf.stirring(settings),
        dueOn: today,
      };
    case 'quiet':
      return {
        stakeMinor:
          Math.round(fact.yearlyMinor * settings.silenceLossChance) ||
          Math.round(settings.leadMinor * settings.silenceLossChance),
        decay: decayOf.quiet(fact.silenceDays, fact.intervalDays),
        dueOn: fact.dueOn,
      };
    case 'renewal':
      return {
        stakeMinor: fact.yearlyMinor || settings.leadMinor,
        decay: decayOf.renewal(settings, daysBetween(today, fact.deadlineOn)),
        dueOn: fact.deadlineOn,
      };
    case 'loose':
      return {
        stakeMinor: fact.weightedMinor || settings.leadMinor,
        decay: decayOf.loose(settings, fact.days, fact.patienceDays),
        dueOn: fact.since,
      };
    case 'stalled':
      return {
        stakeMinor: fact.weightedMinor || settings.leadMinor,
        decay: decayOf.stalled(settings, fact.daysPast, fact.patienceDays),
        dueOn: fact.since,
      };
    case 'lead':
      return {
        stakeMinor: Math.round(settings.leadMinor * warmthWeight[fact.warmth ?? 'warm']),
        decay: fact.state === 'untried' ? decayOf.lead(settings) : decayOf.task(settings, fact.lateDays),
        dueOn: today,
      };
    case 'waking':
      return {
        // A lead that wakes has no deal yet.
        stakeMinor: fact.weightedMinor || settings.leadMinor,
        decay: decayOf.waking(settings, fact.lateDays),
        dueOn: fact.wakeOn,
      };
  }
}

/** What a lead is worth beside the usual one: the rep's own word for it. */
const warmthWeight: Record<Warmth, number> = { hot: 1.5, warm: 1, cool: 0.5 };

/** Index of the last horizon day that is not after the date; null when the horizon ends before it. */
function lastDayUpTo(days: readonly HorizonDay[], date: PlainDate): number | null {
  if (days.at(-1)!.on < date) return null;
  const after = days.findIndex((day) => day.on > date);
  return Math.max(0, (after < 0 ? days.length : after) - 1);
}

export interface Reason {
  readonly words: string;
  /** It needs a person now: shown in the accent. */
  readonly pressing: boolean;
}

/** A fact in words with its numbers, such as "quiet for 41 days, check-in every 30". */
export function reasonOf(
  fact: RoundFact,
  saying: { today: PlainDate; now: Instant; currency: string; clock: (at: Instant) => string },
): Reason {
  switch (fact.kind) {
    case 'task':
      if (fact.promisedAt !== null)
        return {
          words: $localize`promised for ${saying.clock(fact.promisedAt)}:promisedAt:`,
          pressing: true,
        };
      return { words: sayDue(fact.overdueDays), pressing: fact.overdueDays > 0 };
    case 'step':
      return {
        words: $localize`step ${fact.step}:step: of ${fact.steps}:steps:, ${sayDue(fact.lateDays)}:lateDays:`,
        pressing: fact.lateDays > 0,
      };
    case 'reply':
      return {
        words: $localize`wrote ${sayAgo(minutesBetween(fact.since, saying.now))}:since:`,
        pressing: true,
      };
    case 'stirring':
      return { words: `${fact.words} ${sayAgo(minutesBetween(fact.at, saying.now))}`, pressing: true };
    case 'quiet':
      return {
        words: $localize`quiet for ${sayCount(fact.silenceDays, 'day|days')}:silenceDays:, check-in every ${fact.intervalDays}:intervalDays:`,
        pressing: false,
      };
    case 'renewal': {
      const days = daysBetween(saying.today, fact.deadlineOn);
      const when =
        days === 0
          ? $localize`notice closes today`
          : $localize`notice closes in ${sayCount(days, 'day|days')}:days:`;
      return {
        words: $localize`${when}:when: · agreement ${sayMoney(fact.yearlyMinor, saying.currency)}:yearlyMinor: a year`,
        pressing: days <= 7,
      };
    }
    case 'loose':
      return {
        words: $localize`deal ${sayMoney(fact.amountMinor, fact.currency ?? saying.currency)}:amountMinor: has no next step`,
        pressing: false,
      };
    case 'stalled':
      return {
        words: $localize`deal ${sayMoney(fact.amountMinor, fact.currency ?? saying.currency)}:amountMinor: stalled ${sayCount(fact.daysPast, 'day|days')}:daysPast: past its patience in ${fact.stage}:stage:`,
        pressing: false,
      };
    case 'lead':
      return { words: leadWords(fact, saying.now), pressing: fact.state === 'untried' || fact.lateDays > 0 };
    case 'waking':
      return { words: $localize`parked until today: ${fact.reason}:reason:`, pressing: false };
  }
}

function leadWords(fact: Extract<RoundFact, { kind: 'lead' }>, now: Instant): string {
  const about = `“${fact.subject}”${fact.source === null ? '' : `, ${fact.source}`}`;
  if (fact.state === 'untried')
    return $localize`new lead ${sayAgo(minutesBetween(fact.since, now))}:since:: ${about}:about:`;
  return fact.state === 'loose'
    ? $localize`lead without a next step: ${about}:about:`
    : $localize`follow-up ${sayDue(fact.lateDays)}:lateDays:: ${about}:about:`;
}

/** What to do, in words, when no task says it. */
export function purposeOf(fact: RoundFact): string {
  const purposes: Record<CandidateKind, string> = {
    task: 'purpose' in fact ? fact.purpose : '',
    step: 'purpose' in fact ? fact.purpose : '',
    reply: $localize`answer them`,
    lead: 'state' in fact && fact.state !== 'untried' ? $localize`take it further` : $localize`first contact`,
    quiet: $localize`check in`,
    renewal: $localize`talk about the renewal`,
    loose: $localize`agree the next step`,
    stalled: $localize`find out what holds it up`,
    waking: $localize`take it up again`,
    stirring: $localize`follow up while it is fresh`,
  };
  return purposes[fact.kind];
}

function sayDue(lateDays: number): string {
  if (lateDays <= 0) return $localize`due today`;
  return lateDays === 1 ? $localize`due yesterday` : $localize`due ${lateDays}:lateDays: working days ago`;
}

function sayAgo(minutes: number): string {
  if (minutes < 60) return $localize`${Math.max(1, minutes)}:max: min ago`;
  if (minutes < 60 * 24) return $localize`${Math.round(minutes / 60)}:minutes: h ago`;
  return $localize`${sayCount(Math.floor(minutes / 60 / 24), 'day|days')}:minutes: ago`;
}
