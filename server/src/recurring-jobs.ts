import { undoDays } from './activity/changes/undo-set';
import type { UserId } from '@kettle/contract';
import { localDate, localMoment } from '@kettle/core/time';
import * as z from 'zod';
import { sqlInstant } from './platform/database/values';
import { applyEvent } from './processes/cadences/apply-event';
import { readRunsToWake } from './processes/cadences/run-rows';
import { importUndoJob, importUndoKind } from './processes/imports/undo-import';
import { chunkKind, importChunk } from './processes/imports/apply-chunk';
import { learnAnswers } from './processes/deals/letting-go';
import { learnLeadWorth } from './processes/leads/lead-worth';
import { bulkJob, bulkKind, bulkUndoJob, bulkUndoKind } from './processes/bulk/bulk';
import { touchFactsJob } from './activity/touch/touch-facts-job';
import { touchFactsKind } from './records/settings/ask-for-touch-facts';
import { sendStepKind } from './processes/cadences/ask-to-send-step';
import { sendStepJob } from './processes/cadences/send-step';
import { sendMailKind } from './activity/outbox/mail-outbox';
import { readArrivalJob } from './processes/mail/read-arrival';
import { sendMailJob } from './processes/mail/send-mail';
import { readArrivalKind } from './processes/mail/store-arrival';
import { sendTextKind } from './activity/outbox/text-outbox';
import { sendTextJob } from './processes/telephone/outgoing-texts';
import { remindJob, remindKind } from './activity/tasks/remind';
import { closeRoundDay } from './screens/round/read-round';
import { idOf, type IdBytes } from './platform/ids';
import type { Services } from './platform/services';
import { enqueue } from './platform/jobs/job-table';
import type { JobKind, JobKinds } from './platform/jobs/worker';

/** Every kind of background work, by name. */
export function jobKinds(services: Services): JobKinds {
  return {
    [chunkKind]: importChunk,
    [importUndoKind]: importUndoJob,
    [touchFactsKind]: touchFactsJob,
    [bulkKind]: bulkJob,
    [bulkUndoKind]: bulkUndoJob,
    [remindKind]: remindJob,
    [sendMailKind]: sendMailJob(services),
    [readArrivalKind]: readArrivalJob,
    [sendStepKind]: sendStepJob(services),
    [sendTextKind]: sendTextJob(services),
    'close-round-day': closeDay,
    'wake-runs': wakeRuns,
    sweep,
    learn,
  };
}

/** Kinds that write many rows: imports, bulk changes and their undo, recounts, sweeping. */
export const bulkKinds: ReadonlySet<string> = new Set([
  chunkKind,
  importUndoKind,
  bulkKind,
  bulkUndoKind,
  touchFactsKind,
  'sweep',
  'learn',
]);

const ofUser = z.object({ userId: z.uuid() });

/** At the end of a person's day: what it taught about the price of a minute. */
const closeDay: JobKind = {
  effect: 'database',
  run: (w, payload) => closeRoundDay(w, ofUser.parse(payload).userId as UserId),
};

/** Each morning: runs whose pause has ended continue. */
const wakeRuns: JobKind = {
  effect: 'database',
  run: async (w) => {
    const today = w.now.slice(0, 10);
    for (const stored of await readRunsToWake(w, today))
      await applyEvent(w, stored, { id: `wake:${today}`, at: w.now, kind: 'resumed' });
  },
};

/** Each night: how often tries are answered, and what a lead is expected to bring, from the organisation's own history. */
const learn: JobKind = {
  effect: 'database',
  run: async (w) => {
    await learnAnswers(w, w.now);
    await learnLeadWorth(w, (await w.settings()).round);
  },
};

const jobsKeptDays = 30;
const sweptAtOnce = 2000;
/** So that a night's sweeping keeps up with 100,000 changes a day: parts follow each other until nothing is left. */
const batchesInPart = 10;

/** What nobody will ask for again, by its statement. Rows of change sets go before the sets they belong to. */
const swept: readonly string[] = [
  `DELETE FROM change_row WHERE set_id IN
     (SELECT id FROM change_set WHERE at < :undo) LIMIT ${sweptAtOnce}`,
  `DELETE FROM change_set WHERE at < :undo AND NOT EXISTS (SELECT 1 FROM change_row r WHERE r.set_id = change_set.id) LIMIT ${sweptAtOnce}`,
  `DELETE FROM job WHERE state = 'done' AND finished_at < NOW(3) - INTERVAL ${jobsKeptDays} DAY LIMIT ${sweptAtOnce}`,
  // Uploads that never came to their end.
  'DELETE FROM stored_file WHERE NOT is_complete AND created_at < :yesterday LIMIT 200',
  `DELETE FROM session WHERE expires_at < :now LIMIT ${sweptAtOnce}`,
];

const partOfSweep = z.object({ part: z.int().default(0) });

/** Each night. A part that found more than it may delete asks for the next one. */
const sweep: JobKind = {
  effect: 'database',
  isBulk: true,
  run: async (w, payload) => {
    const { part } = partOfSweep.parse(payload);
    const ago = (days: number) => sqlInstant(new Date(Date.parse(w.now) - days * 86_400_000).toISOString());
    const times = { now: sqlInstant(w.now), yesterday: ago(1), undo: ago(undoDays) };
    let isLeft = false;
    for (const sql of swept) {
      let count = sweptAtOnce;
      for (let batch = 0; batch < batchesInPart && count === sweptAtOnce; batch += 1)
        count = await w.change(sql, times);
      isLeft ||= count === sweptAtOnce;
    }
    if (isLeft)
      await enqueue(w, {
        kind: 'sweep',
        dedupeKey: `sweep:${w.now.slice(0, 10)}:${part + 1}`,
        payload: { part: part + 1 },
        dueAt: w.now,
      });
  },
};

/** Asks for today's recurring work; asking again, from any server, changes nothing. */
export async function askForDailyWork({ database, clock, calendars }: Services): Promise<void> {
  const users = await database.rows<{ id: IdBytes; zone: string; country: string }>(
    'SELECT id, zone, country FROM app_user ORDER BY id',
  );
  const now = clock.now();
  const today = now.slice(0, 10);
  for (const kind of ['wake-runs', 'sweep', 'learn'])
    await enqueue(database, { kind, dedupeKey: `${kind}:${today}`, payload: {}, dueAt: now });
  for (const user of users) {
    const userId = idOf<UserId>(user.id);
    const on = localDate(now, user.zone);
    const { endMinute } = calendars.of(user.country, user.zone);
    const dueAt = localMoment(on, endMinute, user.zone);
    await enqueue(database, {
      kind: 'close-round-day',
      dedupeKey: `close-round-day:${userId}:${on}`,
      payload: { userId },
      dueAt,
    });
  }
}
