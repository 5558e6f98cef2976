import type { Counted } from '@kettle/contract/base/counted';
import { isoWeekday } from '@kettle/core/time';
import * as z from 'zod';
import { bytesOf, idOf, type IdBytes } from '../../platform/ids';
import { enqueue, type NewJob, oncePerDay } from '../../platform/jobs/job-table';
import type { JobKind } from '../../platform/jobs/worker';
import type { Work, Writing } from '../../platform/work/work';
import { recount } from './derive-counted';
import { countedTables } from './measures';

export const recountKind = 'recount';

const recordsInPart = 500;
const kinds = Object.keys(countedTables) as Counted[];
const part = z
  .object({ kind: z.enum(['contact', 'company', 'deal']), after: z.uuid().nullable(), day: z.string() })
  .partial();

/** Counts everything anew, part by part: what no change of a record would ever mend is mended within a week. */
export const recountJob: JobKind = {
  words: $localize`counting what happened with everybody`,
  effect: 'database',
  lane: 'bulk',
  run: async (w, payload) => {
    const { kind = 'contact', after = null, day = w.now.slice(0, 10) } = part.parse(payload);
    const ids = await recountPart(w, kind, after);
    const last = ids.at(-1);
    if (last !== undefined && ids.length === recordsInPart) await ask(w, { kind, after: last, day });
    else {
      const next = kinds[kinds.indexOf(kind) + 1];
      if (next !== undefined) await ask(w, { kind: next, after: null, day });
    }
  },
};

/** On Sundays, when hardly anybody waits for the database. */
export const recountOnSunday = (now: string): NewJob[] =>
  isoWeekday(now.slice(0, 10)) === 7 ? [oncePerDay(recountKind, now)] : [];

async function recountPart(
  w: Pick<Work, 'rows' | 'later'>,
  kind: Counted,
  after: string | null,
): Promise<string[]> {
  const rows = await w.rows<{ id: IdBytes<string> }>(
    `SELECT id FROM ${countedTables[kind].subject} ${after === null ? '' : 'WHERE id > :after'}
      ORDER BY id LIMIT ${recordsInPart}`,
    after === null ? {} : { after: bytesOf(after) },
  );
  const ids = rows.map(({ id }) => idOf(id));
  await recount(w, kind, ids);
  return ids;
}

/** Everything at once, where rows were written that nothing follows from, as by the demo. */
export async function recountEverything(w: Pick<Work, 'rows' | 'later'>): Promise<void> {
  for (const kind of kinds) {
    let after: string | null = null;
    do {
      const ids: string[] = await recountPart(w, kind, after);
      after = ids.length === recordsInPart ? ids.at(-1)! : null;
    } while (after !== null);
  }
}

async function ask(w: Writing, payload: z.infer<typeof part>): Promise<void> {
  const dedupeKey = `${recountKind}:${payload.day}:${payload.kind}:${payload.after ?? 'first'}`;
  await enqueue(w, { kind: recountKind, dedupeKey, payload, dueAt: w.now });
}
