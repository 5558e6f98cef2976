import * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import { newId } from '../../platform/ids';
import { enqueue } from '../../platform/jobs/job-table';

export const touchFactsKind = 'touch-facts';
/** People with one standing, those after an id: one part of the work. */
export const touchFactsPart = z.object({
  standingId: z.uuid(),
  after: z.uuid().nullable(),
  round: z.string(),
});

/** Asks for the touch facts of everybody with these standings to be derived again, after a change of the rules. */
export async function askForTouchFacts(
  tx: Queryable,
  standingIds: readonly string[],
  now: string,
): Promise<void> {
  for (const standingId of new Set(standingIds))
    await enqueueTouchFacts(tx, { standingId, after: null, round: newId<string>() }, now);
}

/** Asks for one part. */
export async function enqueueTouchFacts(
  tx: Queryable,
  payload: z.infer<typeof touchFactsPart>,
  now: string,
): Promise<void> {
  const { standingId, after, round } = payload;
  const dedupeKey = `${touchFactsKind}:${standingId}:${round}:${after ?? 'first'}`;
  await enqueue(tx, { kind: touchFactsKind, dedupeKey, payload, dueAt: now });
}
