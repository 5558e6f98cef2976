import { localDate, localMinute, localMoment } from '@kettle/core/time';
import { variantOf } from '@kettle/core/cadences';
import * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import { bytesOf, idOf, idOrNull, type IdBytes } from '../../platform/ids';
import type { JobKind } from '../../platform/jobs/worker';
import type { Services } from '../../platform/services';
import { queueMail, queueText } from '../../activity/outbox/index';
import { readPerson } from '../../records/users/index';
import { fillFor, readText } from '../templates/index';
import { applyEvent } from './apply-event';
import { askToSendStep } from './ask-to-send-step';
import { readRun, type StoredRun } from './run-rows';
import { type Work } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';

const ofTask = z.object({ taskId: z.uuid() });

interface StepTask
  extends Row<'task', 'id' | 'channel' | 'due_on' | 'deal_id'>, Row<'contact', 'zone' | 'email' | 'phone'> {
  run_id: IdBytes;
  run_step: number;
}

/**
 * The moment of a step that goes by itself: its text is filled with what is known now and put into the outbox. A missing
 * fact makes it a task for a person. A step that was moved is asked for again on its new day; one that is gone is left.
 */
export function sendStepJob(services: Services): JobKind {
  return {
    words: $localize`sending a step of a cadence`,
    effect: 'database',
    run: async (w, payload) => {
      const [task] = await w.rows<StepTask>(
        `SELECT t.id, t.channel, t.due_on, t.run_id, t.run_step, t.deal_id, c.zone, c.email, c.phone
           FROM task t JOIN contact c ON c.id = t.contact_id
          WHERE t.id = :id AND t.state = 'open' AND t.is_automatic FOR UPDATE`,
        { id: bytesOf(ofTask.parse(payload).taskId) },
      );
      const stored = task && (await readRun(w, idOf(task.run_id)));
      if (!task || !stored || stored.run.status !== 'running' || stored.run.step !== task.run_step) return;
      if (task.due_on > localDate(services.clock.now(), task.zone)) return askOnItsDay(w, stored, task);
      await send(w, stored, task);
    },
  };
}

async function askOnItsDay(tx: Queryable, { definition }: StoredRun, task: StepTask): Promise<void> {
  const { windowStart } = definition.steps[task.run_step]!;
  await askToSendStep(tx, idOf(task.id), localMoment(task.due_on, windowStart, task.zone));
}

async function send(w: Work, stored: StoredRun, task: StepTask): Promise<void> {
  const now = w.now;
  const step = stored.definition.steps[task.run_step]!;
  // Held up past its window (the server was away): the next day, not at night.
  if (localMinute(now, task.zone) >= step.windowEnd)
    return replanFor(w, stored, $localize`its window was over`);
  const templateId = variantOf(step.templateIds, stored.id, task.run_step);
  const to = task.channel === 'email' ? task.email : task.phone;
  if (templateId === null || to === null)
    return replanFor(
      w,
      stored,
      templateId === null ? $localize`it has no template` : $localize`there is nothing to reach them on`,
    );
  const sender = await readPerson(w, stored.ownerId);
  const filled = await fillFor(w, w.services, await readText(w, templateId), {
    contactId: stored.contactId,
    dealId: stored.dealId,
    sender,
  });
  if (filled.missing.length > 0 || filled.wrong.length > 0)
    return replanFor(
      w,
      stored,
      $localize`not known: ${[...filled.missing, ...filled.wrong].join(', ')}:join:`,
    );
  const shared = {
    idempotencyKey: `step:${idOf<string>(task.id)}`,
    userId: stored.ownerId,
    contactId: stored.contactId,
    dealId: idOrNull<string>(task.deal_id),
    to,
    text: filled.body,
    templateId,
    run: { id: stored.id, step: task.run_step },
    entryId: null,
    dueAt: now,
  };
  if (task.channel === 'text') await queueText(w, shared);
  else await queueMail(w, { ...shared, subject: filled.subject, answers: null });
}

async function replanFor(w: Work, stored: StoredRun, reason: string): Promise<void> {
  const now = w.now;
  await applyEvent(w, stored, {
    id: `not-sent:${stored.id}:${stored.run.step}:${now}`,
    at: now,
    kind: 'not-sent',
    step: stored.run.step,
    reason,
  });
}
