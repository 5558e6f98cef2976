import { localDate } from '@kettle/core/time';
import type { Queryable } from '../../db/database';
import { sqlInstant } from '../../db/values';
import type { Handlers } from '../../http/bind-routes';
import { Problem } from '../../http/problem';
import { bytesOf, idOrNull, type IdBytes } from '../../ids';
import type { Services } from '../../services';
import { noteChange } from '../changes/feed';
import { promisedInstant } from '../journal/log-act';
import { refreshNextSteps } from '../journal/next-steps';
import { assertMayChange } from '../session/rights';
import type { SignedIn } from '../session/session';
import { insertTasks, openTasks, readTask, type Task } from './tasks';

type Names = 'createTask' | 'listTasks' | 'deferTask' | 'dropTask';

export function tasksRoutes(services: Services): Pick<Handlers, Names> {
  const { database, clock, feed } = services;

  /** Changes one open task over the version it was seen at, and the tethers with it. */
  const changeTask = async (
    who: SignedIn,
    id: string,
    version: number,
    assignments: string,
    values: Record<string, string>,
  ) => {
    const changed = await database.transaction(async (tx) => {
      const task = await readTask(tx, id);
      await assertMayChange(tx, who, task.ownerId);
      const count = await tx.change(
        `UPDATE task SET ${assignments}, version = version + 1 WHERE id = :id AND version = :version AND state = 'open'`,
        { ...values, id: bytesOf(id), version },
      );
      if (count === 0)
        throw new Problem(task.state === 'open' ? 'stale' : 'already-done', {}, { current: task });
      await tell(tx, task, who, clock.now());
      return readTask(tx, id);
    });
    feed.poke();
    return changed;
  };

  return {
    listTasks: async ({ query }) => ({ tasks: await openTasks(database, query) }),
    createTask: async ({ who, body }) => {
      if (body.dueOn < localDate(clock.now(), who.zone))
        throw new Problem('in-the-past', {}, { fields: [{ path: 'dueOn', message: 'lies in the past' }] });
      const task = await database.transaction(async (tx) => {
        const about = await readAbout(tx, body);
        await assertMayChange(tx, who, about.ownerId);
        const { promisedMinute, ...fields } = body;
        const promisedAt = promisedInstant({ dueOn: body.dueOn, promisedMinute }, who);
        const draft = { ...fields, ...about, promisedAt, ownerId: who.id, run: null };
        const [id] = await insertTasks(tx, [draft], clock.now());
        const made = await readTask(tx, id!);
        await tell(tx, made, who, clock.now());
        return made;
      });
      feed.poke();
      return task;
    },
    deferTask: ({ who, params, body }) => {
      if (body.dueOn < localDate(clock.now(), who.zone))
        throw new Problem('in-the-past', {}, { fields: [{ path: 'dueOn', message: 'lies in the past' }] });
      const set = 'due_on = :dueOn, promised_at = NULL, times_moved = times_moved + 1';
      return changeTask(who, params.id, body.version, set, { dueOn: body.dueOn });
    },
    dropTask: ({ who, params, body }) =>
      changeTask(
        who,
        params.id,
        body.version,
        "state = 'dropped', drop_reason = :reason, finished_at = :now",
        {
          reason: body.reason,
          now: sqlInstant(clock.now()),
        },
      ),
  };
}

async function tell(tx: Queryable, task: Task, who: SignedIn, now: string): Promise<void> {
  await refreshNextSteps(tx, { contactIds: [task.contactId], dealIds: [task.dealId] }, now);
  await noteChange(tx, 'task', task.id, who.id);
}

/** Company and owner of what a task is about; a deal's task is also its contact's. */
async function readAbout(tx: Queryable, about: { contactId: string | null; dealId: string | null }) {
  const [row] = await tx.rows<{
    contact_id: IdBytes | null;
    company_id: IdBytes | null;
    owner_id: IdBytes | null;
  }>(
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
