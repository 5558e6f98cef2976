import type { CandidateKind, Channel, PlainDate } from '@kettle/contract';

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
    }
  /** 1 - min(1, medianDays / days left)^2, with calendar days to the notice deadline. */
  | { readonly kind: 'deadline'; readonly daysLeft: number; readonly medianDays: number };

/** One reason to act, before ranking. Money in minor units, minutes whole. */
export interface Candidate {
  /** Unique and stable: the last tie-break, so that input order does not matter. */
  readonly key: string;
  readonly kind: CandidateKind;
  /** Candidates of one group are one row: one person and purpose. */
  readonly group: string;
  readonly channel: Channel;
  readonly stakeMinor: number;
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
  /** What a usual day has free. */
  readonly usualFreeMinutes: number;
  /** Money in minor units that a minute is usually worth. */
  readonly priceOfMinute: number;
}

export const horizonDays = 20;
