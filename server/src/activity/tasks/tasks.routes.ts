import { localMinute } from '@kettle/core/time';
import type { SqlParameters } from '../../platform/database/database';
import { instantOf, sqlInstant } from '../../platform/database/values';
import type { Call, Handlers } from '../../platform/http/bind-routes';
import { Problem } from '../../platform/problem';
import { bytesOf } from '../../platform/ids';
import type { Services } from '../../platform/services';
import type { SignedIn } from '../../records/users/index';
import { assertMayChange } from '../../records/rights/index';
import { mergeChange, sentOf, type FieldsAt } from '../../platform/work/merge-change';
import { assertAhead, planTask, readOwner } from './plan-task';
import { planReminder } from './remind';
import { repeatTask } from './repeat-task';
import { openTasks, readTask, type Task } from './tasks';
import { promisedMinuteOf, writeTask } from './write-task';
import { tasksList } from './list-tasks';
import { listRoutes } from '../../records/grid/index';
import { type PersonWork, work } from '../../platform/work/work';

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
    createTask: ({ who, body }) => work(services, who, (w) => planTask(w, body)),
    changeTask: ({ who, params: { id }, body: asked }) => {
      return changing(who, { id, isOpen: true }, async (w, task) => {
        const { zone } = await readOwner(w, task.ownerId);
        const current = { ...fieldsOf(task), promisedMinute: promisedMinuteOf(task, zone) };
        const fields = fieldsAt(zone);
        const sent = await mergeChange(w, { table: 'task', id, fields, asked, record: task, current });
        await writeTask(w, id, sentOf(sent));
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
