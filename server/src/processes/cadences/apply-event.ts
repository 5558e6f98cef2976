import type { ContactId, TaskId } from '@kettle/contract';
import { advance, type PlanSetting, type Run, type RunEffect, type RunEvent } from '@kettle/core/cadences';
import type { Queryable } from '../../platform/database/database';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf, idOrNull } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import { writeSystemEntry } from '../../records/entries/index';
import { readPerson } from '../../records/users/index';
import { type NewTask, insertTasks } from '../../activity/tasks/index';
import { noteEvent, noteReached } from './run-steps';
import { askToSendStep } from './ask-to-send-step';
import { planSettingOf, readCompanyDays, readPlannable } from './plan-setting';
import { runSummaryOf, writeRun, type StoredRun } from './run-rows';
import { type Work } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';

export interface AppliedEvent {
  readonly run: Run;
  readonly taskId: TaskId | null;
}

/** What planning must know about a stored run's person, with its own open task left out of the days taken. */
export async function settingOfRun(
  w: Pick<Work, 'rows' | 'change' | 'now' | 'services' | 'settings'>,
  stored: StoredRun,
): Promise<PlanSetting> {
  const [person] = await readPlannable(w, w.services, [stored.contactId]);
  if (!person) throw new Error(`contact ${stored.contactId} has gone while its run goes on`);
  const takenDays = new Set(person.takenDays);
  if (stored.run.nextOn !== null) takenDays.delete(stored.run.nextOn);
  const owner = await readPerson(w, stored.ownerId);
  const companyDays = await readCompanyDays(w, [person], w.now.slice(0, 10));
  return planSettingOf({ ...person, takenDays }, companyDays, w.services, await w.settings(), owner);
}

/** Applies an event to a stored run and carries out its effects, all in the caller's transaction. */
export async function applyEvent(w: Work, stored: StoredRun, event: RunEvent): Promise<AppliedEvent> {
  const planSetting = await settingOfRun(w, stored);
  const { run, effects } = advance(stored.run, event, { ...planSetting, definition: stored.definition });
  const answered =
    stored.answered ||
    event.kind === 'replied' ||
    (event.kind === 'step-done' && event.counts === 'conversation');
  if (!(await writeRun(w, stored, run, answered)))
    throw new Problem('stale', {}, { current: runSummaryOf(stored) });
  await noteEvent(w, stored.id, event);
  const taskId = await carryOut(w, stored, effects);
  return { run, taskId };
}

async function carryOut(w: Work, stored: StoredRun, effects: readonly RunEffect[]): Promise<TaskId | null> {
  let taskId: TaskId | null = null;
  for (const effect of effects) {
    const made = await carryOutOne(w, stored, effect);
    taskId = made ?? taskId;
  }
  return taskId;
}

async function carryOutOne(w: Work, stored: StoredRun, effect: RunEffect): Promise<TaskId | undefined> {
  const id = bytesOf(stored.id);
  const contact = bytesOf(stored.contactId);
  switch (effect.kind) {
    case 'create-task':
    case 'send': {
      const companyId = await companyOf(w, stored.contactId);
      const [taskId] = await insertTasks(w, [taskOfEffect(stored, companyId, effect)]);
      await noteReached(w, stored, effect);
      if (effect.kind === 'send' && taskId) await askToSendStep(w, taskId, effect.at);
      return taskId;
    }
    case 'cancel-task':
      await w.change(
        `UPDATE task SET state = 'dropped', drop_reason = :reason, finished_at = :now, version = version + 1
          WHERE run_id = :id AND state = 'open'`,
        { id, reason: effect.reason, now: sqlInstant(w.now) },
      );
      for (const table of ['mail', 'text_message'])
        await w.change(
          `UPDATE ${table} SET state = 'withdrawn', said = :reason WHERE run_id = :id AND state = 'waiting'`,
          { id, reason: effect.reason },
        );
      return undefined;
    case 'mark-do-not-contact':
      await w.change(
        'INSERT IGNORE INTO do_not_contact (contact_id, channel, since, origin) VALUES (:contact, :channel, :now, :origin)',
        { contact, channel: effect.channel, now: sqlInstant(w.now), origin: $localize`they asked` },
      );
      return undefined;
    case 'mark-unusable': {
      const column = effect.channel === 'email' ? 'email_unusable' : 'phone_unusable';
      await w.change(`UPDATE contact SET ${column} = TRUE, version = version + 1 WHERE id = :contact`, {
        contact,
      });
      return undefined;
    }
    case 'hand-over':
      await w.change(
        "UPDATE task SET owner_id = :owner, version = version + 1 WHERE run_id = :id AND state = 'open'",
        { id, owner: bytesOf(stored.ownerId) },
      );
      return undefined;
    case 'notify':
      await writeSystemEntry(w, {
        contactId: stored.contactId,
        body: `${stored.cadenceName}: ${effect.words}`,
      });
      return undefined;
  }
}

export function taskOfEffect(
  stored: Pick<StoredRun, 'id' | 'definition' | 'ownerId' | 'contactId' | 'dealId'>,
  companyId: string | null,
  effect: Extract<RunEffect, { kind: 'create-task' | 'send' }>,
): NewTask {
  return {
    channel: effect.channel,
    purpose: effect.purpose,
    dueOn: effect.on,
    promisedAt: null,
    minutes: effect.minutes,
    ownerId: stored.ownerId,
    contactId: stored.contactId,
    companyId,
    dealId: stored.dealId,
    isAutomatic: effect.kind === 'send',
    run: {
      id: stored.id,
      step: effect.step,
      spacingDays: stored.definition.steps[effect.step + 1]?.offsetDays ?? null,
    },
  };
}

async function companyOf(tx: Queryable, contactId: ContactId): Promise<string | null> {
  const [person] = await tx.rows<Row<'contact', 'company_id'>>(
    'SELECT company_id FROM contact WHERE id = :id',
    {
      id: bytesOf(contactId),
    },
  );
  return person ? idOrNull(person.company_id) : null;
}
