import * as z from 'zod';
import { newId } from '../../platform/ids';
import { enqueue } from '../../platform/jobs/job-table';
import type { Writing } from '../../platform/work/work';

export const touchFactsKind = 'touch-facts';
/** People with one standing, those after an id: one part of the work. */
export const touchFactsPart = z.object({
  standingId: z.uuid(),
  after: z.uuid().nullable(),
  round: z.string(),
});

/** Asks for the touch facts of everybody with these standings to be derived again, after a change of the rules. */
export async function askForTouchFacts(w: Writing, standingIds: readonly string[]): Promise<void> {
  for (const standingId of new Set(standingIds))
    await enqueueTouchFacts(w, { standingId, after: null, round: newId<string>() });
}

/** Asks for one part. */
export async function enqueueTouchFacts(w: Writing, payload: z.infer<typeof touchFactsPart>): Promise<void> {
  const { standingId, after, round } = payload;
  const dedupeKey = `${touchFactsKind}:${standingId}:${round}:${after ?? 'first'}`;
  await enqueue(w, { kind: touchFactsKind, dedupeKey, payload, dueAt: w.now });
}
