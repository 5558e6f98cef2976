export * from './brief';
export * from './brief-done';
export * from './completion';
export * from './lanes';
export * from './letting-go';
export * from './lines';
export * from './needs';
export * from './patience';
export * from './stage-map';
import type { DealRow, PlainDate, TetherState } from '@kettle/contract';
import { daysBetween } from '../time';

/** Where the next step stands: overdue, today, planned, or none at all. */
export function tetherStateOf(nextStepOn: PlainDate | null, today: PlainDate): TetherState {
  if (nextStepOn === null) return 'loose';
  if (nextStepOn < today) return 'late';
  return nextStepOn === today ? 'today' : 'held';
}

/** Days past the stage's patience since the last real change; 0 or less is not stalled. */
export function stalledDays(lastChangeOn: PlainDate, patienceDays: number, today: PlainDate): number {
  return daysBetween(lastChangeOn, today) - patienceDays;
}

/**
 * The chance of winning a deal, 0 to 1: a won one counts whole, a lost one not at all, whatever was thought of it before; another by its own
 * chance, else by its stage's.
 * @example chanceOf({ status: 'won', own: 0.3, stage: 0.8 }); // 1
 */
export function chanceOf({
  status,
  own,
  stage,
}: {
  readonly status: DealRow['status'];
  readonly own: number | null;
  readonly stage: number;
}): number {
  if (status === 'won') return 1;
  return status === 'lost' ? 0 : (own ?? stage);
}

/** Amount times win probability in minor units, rounded half up. The deal's own probability goes before the stage's. */
export function weightedMinor(
  amountMinor: number,
  ownProbability: number | null,
  stageProbability: number,
): number {
  // Ten-thousandths as whole numbers, as the database keeps them: 35 % of 90 is 31.5, which no binary fraction says.
  const parts = Math.round((ownProbability ?? stageProbability) * 10_000);
  return Math.round((amountMinor * parts) / 10_000);
}
