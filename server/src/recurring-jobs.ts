import type { UserId } from '@kettle/contract';
import { localDate, localMoment } from '@kettle/core/time';
import * as z from 'zod';
import { sqlInstant } from './platform/database/values';
import { applyEvent } from './processes/cadences/apply-event';
import { readRunsToWake } from './processes/cadences/run-rows';
import { chunkKind, importChunk } from './processes/imports/apply-chunk';
import { learnAnswers } from './processes/deals/letting-go';
import { learnLeadWorth } from './processes/leads/lead-worth';
import { bulkJob, bulkKind, bulkUndoJob, bulkUndoKind } from './processes/bulk/bulk';
import { touchFactsJob, touchFactsKind } from './activity/touch/touch-facts-job';
import { sendStepKind } from './processes/cadences/ask-to-send-step';
import { sendStepJob } from './processes/cadences/send-step';
import { sendMailKind } from './processes/mail/outbox';
import { readArrivalJob } from './processes/mail/read-arrival';
import { sendMailJob } from './processes/mail/send-mail';
import { readArrivalKind } from './processes/mail/store-arrival';
import { sendTextJob, sendTextKind } from './processes/telephone/outgoing-texts';
import { remindJob, remindKind } from './activity/tasks/remind';
import { refreshNextSteps } from './activity/touch/next-steps';
import { closeRoundDay } from './screens/round/read-round';
import { idOf, type IdBytes } from './platform/ids';
import type { Services } from './platform/services';
import { enqueue } from './platform/jobs/job-table';
import type { JobKind, JobKinds } from './platform/jobs/worker';

/** Every kind of background work, by name. */
export function jobKinds(services: Services): JobKinds {
  return {
    [chunkKind]: importChunk(services),
    [touchFactsKind]: touchFactsJob(services),
    [bulkKind]: bulkJob(services),
    [bulkUndoKind]: bulkUndoJob(services),
    [remindKind]: remindJob(services),
    [sendMailKind]: sendMailJob(services),
    [readArrivalKind]: readArrivalJob(services),
    [sendStepKind]: sendStepJob(services),
    [sendTextKind]: sendTextJob(services),
    'close-round-day': closeDay(services),
    'wake-runs': wakeRuns(services),
    sweep: sweep(services),
    learn: learn(services),
  };
}

const ofUser = z.object({ userId: z.uuid() });

/** At the end of a person's day: what it taught about the price of a minute. */
function closeDay(services: Services): JobKind {
  return {
    effect: 'database',
    run: (tx, payload) => closeRoundDay(tx, services, ofUser.parse(payload).userId as UserId),
  };
}

/** Each morning: runs whose pause has ended go on. */
function wakeRuns(services: Services): JobKind {
  return {
    effect: 'database',
    run: async (tx) => {
      const { clock, settings } = services;
      const today = clock.now().slice(0, 10);
      const read = await settings.read(tx);
      for (const stored of await readRunsToWake(tx, today)) {
        const event = { id: `wake:${today}`, at: clock.now(), kind: 'resumed' } as const;
        await applyEvent(tx, services, read, stored, event, null);
        await refreshNextSteps(tx, { contactIds: [stored.contactId], dealIds: [stored.dealId] }, clock.now());
      }
    },
  };
}

/** Each night: how often tries are answered, and what a lead is expected to bring, from the organisation's own history. */
function learn({ clock, settings }: Services): JobKind {
  return {
    effect: 'database',
    run: async (tx) => {
      await learnAnswers(tx, clock.now());
      await learnLeadWorth(tx, (await settings.read(tx)).round);
    },
  };
}

const noticesKeptHours = 24;
const jobsKeptDays = 30;

/** Each night: what nobody will ask for again. */
function sweep({ clock }: Services): JobKind {
  return {
    effect: 'database',
    run: async (tx) => {
      await tx.change(
        `DELETE FROM change_notice WHERE recorded_at < NOW(3) - INTERVAL ${noticesKeptHours} HOUR LIMIT 2000`,
      );
      await tx.change(
        `DELETE FROM job WHERE state = 'done' AND finished_at < NOW(3) - INTERVAL ${jobsKeptDays} DAY LIMIT 2000`,
      );
      // Uploads that never came to their end.
      await tx.change(
        'DELETE FROM stored_file WHERE NOT is_complete AND created_at < :now - INTERVAL 1 DAY LIMIT 200',
        { now: sqlInstant(clock.now()) },
      );
      await tx.change('DELETE FROM session WHERE expires_at < :now LIMIT 2000', {
        now: sqlInstant(clock.now()),
      });
    },
  };
}

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
