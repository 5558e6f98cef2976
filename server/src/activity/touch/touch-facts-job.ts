import * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import { bytesOf, idOf, newId, type IdBytes } from '../../platform/ids';
import { enqueue } from '../../platform/jobs/job-table';
import type { JobKind } from '../../platform/jobs/worker';
import { refreshTouchFacts } from './touch-facts';

export const touchFactsKind = 'touch-facts';
const contactsInPart = 200;

const payloadShape = z.object({ standingId: z.uuid(), after: z.uuid().nullable(), round: z.string() });

/** Asks for the touch facts of everybody with these standings to be derived again, after a change of the rules. */
export async function askForTouchFacts(
  tx: Queryable,
  standingIds: readonly string[],
  now: string,
): Promise<void> {
  for (const standingId of new Set(standingIds))
    await enqueuePart(tx, { standingId, after: null, round: newId<string>() }, now);
}

async function enqueuePart(tx: Queryable, payload: z.infer<typeof payloadShape>, now: string): Promise<void> {
  const { standingId, after, round } = payload;
  const dedupeKey = `${touchFactsKind}:${standingId}:${round}:${after ?? 'first'}`;
  await enqueue(tx, { kind: touchFactsKind, dedupeKey, payload, dueAt: now });
}

/** One part in the order of the ids, and the job for the next part in the same transaction. */
export const touchFactsJob: JobKind = {
  effect: 'database',
  run: async (w, payload) => {
    const { standingId, after, round } = payloadShape.parse(payload);
    const rows = await w.rows<{ id: IdBytes }>(
      `SELECT id FROM contact WHERE standing_id = :standing ${after === null ? '' : 'AND id > :after'}
        ORDER BY id LIMIT ${contactsInPart}`,
      { standing: bytesOf(standingId), ...(after === null ? {} : { after: bytesOf(after) }) },
    );
    for (const row of rows) await refreshTouchFacts(w, idOf(row.id));
    const last = rows.at(-1);
    if (last && rows.length === contactsInPart)
      await enqueuePart(w, { standingId, after: idOf(last.id), round }, w.now);
    else w.note('contact', standingId);
  },
};
