import type { CadenceDefinition, Channel, Instant, PlainDate, RunStatus, TouchCount } from '@kettle/contract';

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
