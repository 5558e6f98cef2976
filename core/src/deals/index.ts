export * from './brief';
export * from './brief-done';
export * from './completion';
export * from './lanes';
export * from './letting-go';
export * from './lines';
export * from './needs';
export * from './patience';
export * from './stage-map';
import type { DealRow, Instant, PlainDate, TetherState } from '@kettle/contract';
import { addDays, daysBetween, localDate, localDatesOf, localMoment } from '../time';

/** Where the next step stands: overdue, today, planned, or none at all. */
export function tetherStateOf(nextStepOn: PlainDate | null, today: PlainDate): TetherState {
  if (nextStepOn === null) return 'loose';
  if (nextStepOn < today) return 'late';
  return nextStepOn === today ? 'today' : 'held';
}

/** What a deal stalls by: its last real change, its stage's patience, and the days of whoever owns it. */
export interface Patience {
  readonly movedAt: Instant;
  readonly patienceDays: number;
  readonly ownerZone: string;
}

/**
 * Days past the stage's patience since the last real change, by the owner's calendar; 0 or less is not stalled.
 * @example stalledDays({ movedAt: '2026-11-02T09:00:00.000Z', patienceDays: 10, ownerZone: 'Europe/London' }, '2026-11-13T08:00:00.000Z') // 1
 */
export function stalledDays({ movedAt, patienceDays, ownerZone }: Patience, now: Instant): number {
  const dateOf = localDatesOf(ownerZone);
  return daysBetween(dateOf(movedAt), dateOf(now)) - patienceDays;
}

/**
 * A deal with this patience is stalled at `now` when its last real change was before this moment.
 * @example stalledBefore({ patienceDays: 10, ownerZone: 'Europe/London' }, '2026-11-13T08:00:00.000Z') // '2026-11-03T00:00:00.000Z'
 */
export function stalledBefore({ patienceDays, ownerZone }: Omit<Patience, 'movedAt'>, now: Instant): Instant {
  return localMoment(addDays(localDate(now, ownerZone), -patienceDays), 0, ownerZone);
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
