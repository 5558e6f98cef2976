import * as z from 'zod';
import { sqlInstant } from '../database/values';
import { enqueue } from './job-table';
import type { JobKind } from './worker';

export const sweepKind = 'sweep';
export const sweptAtOnce = 2000;
/** So that a night's sweeping keeps up with 100,000 changes a day: parts follow each other until nothing is left. */
const batchesInPart = 10;

const jobsKeptDays = 30;
/** What the job table itself leaves behind. */
export const sweptJobs: readonly string[] = [
  `DELETE FROM job WHERE state = 'failed' AND failed_at < NOW(3) - INTERVAL ${jobsKeptDays} DAY LIMIT ${sweptAtOnce}`,
  `DELETE FROM job WHERE state = 'done' AND finished_at < NOW(3) - INTERVAL ${jobsKeptDays} DAY LIMIT ${sweptAtOnce}`,
];

const partOfSweep = z.object({ part: z.int().default(0) });

/** Each night: deletes what nobody will ask for again. A part that found more than it may delete asks for the next one. */
export function sweepJob(statements: readonly string[]): JobKind {
  return {
    words: $localize`the nightly sweep`,
    effect: 'database',
    lane: 'bulk',
    isBulk: true,
    run: async (w, payload) => {
      const { part } = partOfSweep.parse(payload);
      let isLeft = false;
      for (const sql of statements) {
        let count = sweptAtOnce;
        for (let batch = 0; batch < batchesInPart && count === sweptAtOnce; batch += 1)
          count = await w.change(sql, { now: sqlInstant(w.now) });
        isLeft ||= count === sweptAtOnce;
      }
      if (isLeft)
        await enqueue(w, {
          kind: sweepKind,
          dedupeKey: `${sweepKind}:${w.now.slice(0, 10)}:${part + 1}`,
          payload: { part: part + 1 },
          dueAt: w.now,
        });
    },
  };
}
