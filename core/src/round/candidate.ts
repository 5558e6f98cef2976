import type { CandidateKind, Channel, PlainDate } from '@kettle/contract';
import type { HandPlace } from './hand';

/** How the chance that acting still brings the stake falls while an item waits. */
export type Decay =
  /** Chance `p0` until `flatDays` from today, then halved every `halfLifeDays`; `per` says in which days. */
  | {
      readonly kind: 'half-life';
      readonly p0: number;
      /** Days of the delay that are already behind; negative while the item is not due yet. */
      readonly behindDays: number;
      readonly halfLifeDays: number;
      readonly per: 'working' | 'calendar';
      /** The share of the chance that no waiting takes away; left out, none. */
      readonly floor?: number;
    }
  /**
   * 1 - (1 - lastDay) 2^(-d / halfDays), d calendar days before the deadline; nothing after it: a cliff. `lastDay` is what acting on
   * the deadline's own day still saves.
   */
  | {
      readonly kind: 'deadline';
      readonly daysLeft: number;
      readonly lastDay: number;
      readonly halfDays: number;
    };

/** One reason to act, before ranking. Money in minor units, minutes whole. */
export interface Candidate {
  /** Unique and stable: the last tie-break, so that input order does not matter. */
  readonly key: string;
  readonly kind: CandidateKind;
  /** Candidates of one group are one row: one person and purpose. */
  readonly group: string;
  readonly channel: Channel;
  readonly stakeMinor: number;
  /** Nobody knows what it is worth: the organisation's median counts. */
  readonly isUsualValue?: boolean;
  readonly minutes: number;
  readonly decay: Decay;
  readonly dueOn: PlainDate;
  /** Free minutes of today that lie before its promised time; null when it is not promised for a time. */
  readonly fixedAfterMinutes: number | null;
  /** Last day on which acting still counts, as index into the horizon; null when there is none. */
  readonly deadlineDay: number | null;
  /** Per horizon day, whether the person can be reached; null when every day. */
  readonly reachable: readonly boolean[] | null;
  readonly pinned: boolean;
  /** Where the hand put it today; left out, nowhere. */
  readonly hand?: HandPlace | null;
  readonly timesMoved: number;
}

/** One working day of the rep, today first. */
export interface HorizonDay {
  readonly on: PlainDate;
  /** Calendar days from today. */
  readonly ahead: number;
  readonly freeMinutes: number;
}

/** Today and the twenty working days after it. */
export interface Horizon {
  readonly days: readonly HorizonDay[];
  /** What a minute of each day is worth at the margin, in minor units: the price at which the work fits that day. */
  readonly prices: readonly number[];
}

export const horizonDays = 20;
