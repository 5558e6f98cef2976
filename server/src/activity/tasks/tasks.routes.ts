import type { PlainDate, UserId } from '@kettle/contract';
import { everComes, localDate, localMinute, readRepeat } from '@kettle/core/time';
import type { Queryable, SqlParameters } from '../../platform/database/database';
import { instantOf, sqlInstant } from '../../platform/database/values';
import type { Call, Handlers } from '../../platform/http/bind-routes';
import { Problem } from '../../platform/problem';
import { bytesOf, idOrNull, type IdBytes } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { notify } from '../../records/notifications/index';
import type { SignedIn } from '../../records/users/index';
import { assertMayChange } from '../../records/rights/index';
import { mergeChange, sentOf, type FieldsAt } from '../../platform/work/merge-change';
import { planReminder } from './remind';
import { repeatTask } from './repeat-task';
import { insertTask, openTasks, readTask, type Task, promisedInstant } from './tasks';
import { tasksList } from './list-tasks';
import { listRoutes } from '../../records/grid/index';
import { type PersonWork, work } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';

type Names =
  | 'createTask'
  | 'listTasks'
  | 'taskTable'
  | 'countTasks'
  | 'exportTasks'
  | 'changeTask'
  | 'finishTask'
  | 'reopenTask'
  | 'deferTask'
  | 'dropTask';

export function tasksRoutes(services: Services): Pick<Handlers, Names> {
  const { database, clock } = services;

  /** Changes one task that is open, or is not; what others changed of it meanwhile stays, unless it is the same field. */
  const changing = (
    who: SignedIn,
    { id, isOpen }: { readonly id: string; readonly isOpen: boolean },
    act: (w: PersonWork, task: Task) => Promise<void>,
  ) =>
    work(services, who, async (w) => {
      await w.rows('SELECT 1 FROM task WHERE id = :id FOR UPDATE', { id: bytesOf(id) });
      const task = await readTask(w, id);
      await assertMayChange(w, who, task.ownerId);
      if ((task.state === 'open') !== isOpen) throw new Problem('already-done', {}, { current: task });
      await act(w, task);
      await planReminder(w, id);
      await w.derive();
      w.say($localize`${task.purpose}:purpose:: changed`);
      return readTask(w, id);
    });
  const update = (w: PersonWork, id: string, assignments: string, values: SqlParameters = {}) =>
    w.change(`UPDATE task SET ${assignments}, version = version + 1 WHERE id = :id`, {
      ...values,
      id: bytesOf(id),
      now: sqlInstant(w.now),
    });

  const list = listRoutes(services, tasksList);

  return {
    listTasks: async ({ query }) => ({ tasks: await openTasks(database, query) }),
    taskTable: list.page,
    countTasks: list.count,
    exportTasks: list.export,
    createTask: async ({ who, body }) => {
      assertAhead(body.dueOn, clock.now(), who);
      assertRule(body.repeats, body.dueOn);
      const task = await work(services, who, async (w) => {
        const about = await readAbout(w, body);
        await assertMayChange(w, who, about.ownerId);
        const { promisedMinute, ...fields } = body;
        const owner = await readOwner(w, body.ownerId ?? who.id);
        const promisedAt = promisedInstant({ dueOn: body.dueOn, promisedMinute }, owner);
        const draft = { ...fields, ...about, promisedAt, ownerId: owner.id, madeBy: who.id, run: null };
        const id = await insertTask(w, draft);
        await planReminder(w, id);
        const made = await readTask(w, id);
        await tellOwner(w, made);
        await w.derive();
        w.say($localize`Task planned: ${made.purpose}:purpose:`);
        return made;
      });
      return task;
    },
    changeTask: ({ who, params: { id }, body: asked }) => {
      return changing(who, { id, isOpen: true }, async (w, task) => {
        const { zone } = await readOwner(w, task.ownerId);
        const current = { ...fieldsOf(task), promisedMinute: promisedMinuteOf(task, zone) };
        const fields = fieldsAt(zone);
        const sent = await mergeChange(w, { table: 'task', id, fields, asked, record: task, current });
        const body = { ...fieldsOf(task), ...sentOf(sent) };
        assertRule(body.repeats, body.dueOn);
        if (body.dueOn !== task.dueOn) assertAhead(body.dueOn, w.now, who);
        const owner = await readOwner(w, body.ownerId);
        const promisedMinute =
          sent.promisedMinute === undefined ? promisedMinuteOf(task, owner.zone) : sent.promisedMinute;
        const { ownerId, remindMinutes, dueOn, ...rest } = body;
        // Columns are set one after the other: whether it moved is asked of the day it had.
        await update(
          w,
          id,
          `times_moved = times_moved + IF(due_on < :dueOn, 1, 0), channel = :channel, purpose = :purpose, due_on = :dueOn, promised_at = :promisedAt, minutes = :minutes,
           owner_id = :owner, repeats = :repeats, repeats_from = IF(:repeats IS NULL, NULL, COALESCE(repeats_from, :dueOn)),
           remind_minutes = :remind`,
          {
            channel: rest.channel,
            purpose: rest.purpose,
            minutes: rest.minutes,
            repeats: rest.repeats,
            dueOn,
            owner: bytesOf(ownerId),
            remind: remindMinutes,
            promisedAt: sqlInstant(promisedInstant({ dueOn, promisedMinute }, owner)),
          },
        );
        if (task.ownerId !== ownerId) await tellOwner(w, await readTask(w, id));
      });
    },
    finishTask: ({ who, params: { id } }) =>
      changing(who, { id, isOpen: true }, async (w) => {
        await update(w, id, "state = 'done', finished_at = :now");
        const next = await repeatTask(w, id);
        if (next !== null) await planReminder(w, next);
      }),
    reopenTask: ({ who, params: { id } }) =>
      changing(who, { id, isOpen: false }, async (w) => {
        await update(w, id, "state = 'open', finished_at = NULL, drop_reason = NULL");
      }),
    deferTask: ({ who, params: { id }, body: asked }) => {
      assertAhead(asked.dueOn, clock.now(), who);
      return changing(who, { id, isOpen: true }, async (w, task) => {
        const fields = { dueOn: { column: 'due_on' } };
        const { dueOn } = await mergeChange(w, { table: 'task', id, fields, asked, record: task });
        await update(w, id, 'due_on = :dueOn, promised_at = NULL, times_moved = times_moved + 1', { dueOn });
      });
    },
    dropTask: ({ who, params: { id }, body: { reason } }) =>
      changing(who, { id, isOpen: true }, async (w) => {
        await update(w, id, "state = 'dropped', drop_reason = :reason, finished_at = :now", { reason });
      }),
  };
}

/** What a change of a task may name, as it is now. */
const fieldsOf = ({ channel, purpose, dueOn, minutes, ownerId, repeats, remindMinutes }: Task) => ({
  channel,
  purpose,
  dueOn,
  minutes,
  ownerId,
  repeats,
  remindMinutes,
});

/** The minute of its owner's day that a task was promised for. */
const promisedMinuteOf = ({ promisedAt }: Task, zone: string): number | null =>
  promisedAt === null ? null : localMinute(promisedAt, zone);

/** Where the fields of a change are kept, so that two people's changes meet field by field; a promise in its owner's zone. */
const fieldsAt = (zone: string) =>
  ({
    channel: { column: 'channel' },
    purpose: { column: 'purpose' },
    dueOn: { column: 'due_on' },
    promisedMinute: {
      column: 'promised_at',
      read: (text: string | null) => (text === null ? null : localMinute(instantOf(text), zone)),
    },
    minutes: { column: 'minutes' },
    ownerId: { column: 'owner_id' },
    repeats: { column: 'repeats' },
    remindMinutes: { column: 'remind_minutes' },
  }) satisfies FieldsAt<Call<'changeTask'>['body']>;

function assertAhead(dueOn: string, now: string, who: SignedIn): void {
  if (dueOn >= localDate(now, who.zone)) return;
  throw new Problem('in-the-past', {}, { fields: [{ path: 'dueOn', message: $localize`lies in the past` }] });
}

/** @throws Problem `not-a-rule` with the reason, also for a rule that falls on no day */
function assertRule(repeats: string | null, from: PlainDate): void {
  if (repeats === null) return;
  const read = readRepeat(repeats);
  if (typeof read !== 'string' && everComes(repeats, from)) return;
  const message = typeof read === 'string' ? read : $localize`never comes: no day fits it`;
  throw new Problem('not-a-rule', {}, { fields: [{ path: 'repeats', message }] });
}

async function readOwner(db: Queryable, id: string): Promise<{ id: UserId; zone: string }> {
  const [owner] = await db.rows<Row<'app_user', 'zone'>>('SELECT zone FROM app_user WHERE id = :id', {
    id: bytesOf(id),
  });
  if (!owner)
    throw new Problem(
      'invalid-request',
      {},
      { fields: [{ path: 'ownerId', message: $localize`is nobody here` }] },
    );
  return { id: id as UserId, zone: owner.zone };
}

async function tellOwner(w: PersonWork, task: Task): Promise<void> {
  if (task.ownerId === w.who.id) return;
  const about = task.contactName ?? task.dealName;
  const path = task.contactId ? `/people/${task.contactId}` : `/deals/${task.dealId ?? ''}`;
  await notify(
    w,
    [task.ownerId],
    $localize`${w.who.name}:name: gave you a task: ${task.purpose}:purpose:${about ? ` · ${about}` : ''}:about:`,
    path,
  );
}

/** Company and owner of what a task is about; a deal's task is also its contact's. */
async function readAbout(tx: Queryable, about: { contactId: string | null; dealId: string | null }) {
  const [row] = await tx.rows<Row<'contact', 'company_id' | 'owner_id'> & { contact_id: IdBytes | null }>(
    about.dealId === null
      ? 'SELECT id AS contact_id, company_id, owner_id FROM contact WHERE id = :id'
      : 'SELECT contact_id, company_id, owner_id FROM deal WHERE id = :id',
    { id: bytesOf(about.dealId ?? about.contactId) },
  );
  if (!row) throw new Problem('not-found');
  return {
    contactId: about.contactId ?? idOrNull<string>(row.contact_id),
    companyId: idOrNull<string>(row.company_id),
    ownerId: idOrNull<string>(row.owner_id),
  };
}
