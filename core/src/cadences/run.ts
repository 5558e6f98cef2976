import type {
  CadenceDefinition,
  CadenceStep,
  Channel,
  Instant,
  PlainDate,
  RunSign,
  RunStatus,
  TouchCount,
} from '@kettle/contract';

/** One contact's passage through a cadence. `step` counts from 0; it equals the number of steps once all are done. */
export interface Run {
  readonly status: RunStatus;
  readonly step: number;
  /** The day the current step is planned for; null when nothing is planned. */
  readonly nextOn: PlainDate | null;
  readonly pausedUntil: PlainDate | null;
  readonly exitReason: string | null;
  /** Ids of the events already applied, so that the same event twice changes nothing. */
  readonly handled: readonly string[];
}

interface EventBase {
  readonly id: string;
  readonly at: Instant;
}

/** Everything that can happen to a run. */
export type RunEvent = EventBase &
  (
    | {
        readonly kind: 'step-done';
        readonly step: number;
        readonly counts: TouchCount;
        readonly endsRun: boolean;
        readonly words: string;
      }
    | { readonly kind: 'step-skipped'; readonly step: number; readonly reason: string }
    /** A step that goes by itself has gone out. */
    | { readonly kind: 'sent'; readonly step: number }
    /** It could not go by itself: somebody has to look. */
    | { readonly kind: 'not-sent'; readonly step: number; readonly reason: string }
    | { readonly kind: 'sign'; readonly sign: RunSign }
    | { readonly kind: 'replied'; readonly channel: Channel }
    | { readonly kind: 'bounced'; readonly channel: Channel }
    | { readonly kind: 'unsubscribed'; readonly channel: Channel }
    | { readonly kind: 'out-of-office'; readonly until: PlainDate | null }
    | { readonly kind: 'meeting-booked' }
    | { readonly kind: 'deal-closed'; readonly as: 'won' | 'lost' | 'parked' }
    | { readonly kind: 'owner-changed'; readonly ownerName: string }
    | { readonly kind: 'paused'; readonly until: PlainDate | null }
    | { readonly kind: 'resumed' }
    | { readonly kind: 'stopped'; readonly reason: string }
    /** The person was merged into another, who may be on this cadence already. */
    | { readonly kind: 'contact-merged'; readonly into: string; readonly isOnIt: boolean }
    /** The run goes on with another version: for each old step the new one, null where the run ends. */
    | {
        readonly kind: 'definition-moved';
        readonly mapping: readonly (number | null)[];
        readonly definition: CadenceDefinition;
      }
  );

/** What the caller has to carry out; data, never done here. */
export type RunEffect =
  | {
      readonly kind: 'create-task';
      readonly step: number;
      readonly channel: Channel;
      readonly on: PlainDate;
      readonly at: Instant;
      readonly minutes: number;
      readonly purpose: string;
    }
  | {
      /** To be sent at its moment, without anybody's hand. */
      readonly kind: 'send';
      readonly step: number;
      readonly channel: Channel;
      readonly on: PlainDate;
      readonly at: Instant;
      readonly minutes: number;
      readonly purpose: string;
    }
  /** Takes back what is planned for the run: its open task, and what waits to be sent. */
  | { readonly kind: 'cancel-task'; readonly reason: string }
  | { readonly kind: 'mark-do-not-contact'; readonly channel: Channel }
  | { readonly kind: 'mark-unusable'; readonly channel: Channel }
  | { readonly kind: 'hand-over' }
  | { readonly kind: 'notify'; readonly words: string };

export interface Transition {
  readonly run: Run;
  readonly effects: readonly RunEffect[];
}

export const isActive = (run: Run) => run.status === 'running' || run.status === 'paused';

export function stepsOf(definition: CadenceDefinition): number {
  return definition.steps.length;
}

/** What a step has when nothing else is said: done by hand, no template, never skipped, no other channel. */
export const plainStep: Pick<CadenceStep, 'fallbackChannel' | 'mode' | 'templateIds' | 'skipWhen'> = {
  fallbackChannel: null,
  mode: 'by-hand',
  templateIds: [],
  skipWhen: [],
};

/** Which of a step's templates a run gets: the same for the run always, and each equally often over many runs. */
export function variantOf<Id>(templateIds: readonly Id[], runId: string, step: number): Id | null {
  if (templateIds.length === 0) return null;
  let hash = 2166136261;
  for (const letter of `${runId}:${step}`) hash = Math.imul(hash ^ letter.charCodeAt(0), 16777619) >>> 0;
  // The low bits of this hash repeat in step with the text's end; the high ones are mixed.
  return templateIds[Math.floor((hash / 2 ** 32) * templateIds.length)]!;
}
