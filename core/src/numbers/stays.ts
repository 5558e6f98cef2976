import type { Instant } from '@kettle/contract';

/** A stay of a deal in a stage; null while it is there. */
export interface Stay {
  readonly stage: string;
  readonly enteredAt: Instant;
  readonly leftAt: Instant | null;
}

const dayMillis = 86_400_000;

/**
 * Whole days in each stage within a period, in the order in which they were entered; stages in which it was for less than a day are left out.
 * @example daysInStages([{ stage: 'Offer', enteredAt: '2026-10-28T09:00:00.000Z', leftAt: null }], '2026-11-01T00:00:00.000Z', '2026-11-11T00:00:00.000Z')
 *   // [{ stage: 'Offer', days: 10 }]
 */
export function daysInStages(
  stays: readonly Stay[],
  from: Instant,
  until: Instant,
): { readonly stage: string; readonly days: number }[] {
  const millis = new Map<string, number>();
  for (const { stage, enteredAt, leftAt } of stays) {
    const [start, end] = [
      enteredAt > from ? enteredAt : from,
      leftAt !== null && leftAt < until ? leftAt : until,
    ];
    const inside = Date.parse(end) - Date.parse(start);
    if (inside > 0) millis.set(stage, (millis.get(stage) ?? 0) + inside);
  }
  return [...millis].flatMap(([stage, inside]) => {
    const days = Math.floor(inside / dayMillis);
    return days === 0 ? [] : [{ stage, days }];
  });
}
