import { addMinutes, localMoment, sayDate } from '@kettle/core/time';
import * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import { instantOf, jsonOf, sqlInstant } from '../../platform/database/values';
import { workingHours } from '@kettle/contract';
import { bytesOf, idOf } from '../../platform/ids';
import { enqueue } from '../../platform/jobs/job-table';
import type { JobKind } from '../../platform/jobs/worker';
import { notify } from '../../records/notifications/index';
import type { Row, Tables } from '../../platform/database/schema.generated';

export const remindKind = 'remind-task';

interface ReminderRow
  extends
    Row<
      'task',
      | 'purpose'
      | 'due_on'
      | 'promised_at'
      | 'remind_minutes'
      | 'owner_id'
      | 'state'
      | 'remind_at'
      | 'contact_id'
      | 'deal_id'
    >,
    Row<'app_user', 'zone'> {
  name: Tables['contact']['display_name'];
  hours: unknown;
}

async function readReminder(tx: Queryable, taskId: string): Promise<ReminderRow | undefined> {
  const [row] = await tx.rows<ReminderRow>(
    `SELECT t.purpose, t.due_on, t.promised_at, t.remind_minutes, t.owner_id, u.zone, u.hours, t.state, t.remind_at,
            t.contact_id, t.deal_id, c.display_name AS name
       FROM task t JOIN app_user u ON u.id = t.owner_id LEFT JOIN contact c ON c.id = t.contact_id WHERE t.id = :id`,
    { id: bytesOf(taskId) },
  );
  return row;
}

/**
 * Sets when a task's owner is reminded: so many minutes before the time it was promised for, or before the owner's day
 * begins. Called in the transaction that wrote the task; an earlier reminder of the same task then does nothing.
 */
export async function planReminder(tx: Queryable, taskId: string): Promise<void> {
  const row = await readReminder(tx, taskId);
  if (!row) return;
  const at = row.remind_minutes === null ? null : reminderAt(row, row.remind_minutes);
  await tx.change('UPDATE task SET remind_at = :at WHERE id = :id', {
    id: bytesOf(taskId),
    at: sqlInstant(at),
  });
  if (at !== null)
    await enqueue(tx, {
      kind: remindKind,
      dedupeKey: `${remindKind}:${taskId}:${at}`,
      payload: { taskId, at },
      dueAt: at,
    });
}

function reminderAt(row: ReminderRow, minutes: number): string {
  const { start } = workingHours.parse(jsonOf(row.hours));
  const due =
    row.promised_at === null ? localMoment(row.due_on, start, row.zone) : instantOf(row.promised_at);
  return addMinutes(due, -minutes);
}

const payloadShape = z.object({ taskId: z.uuid(), at: z.string() });

/** Tells the owner, if the task is still open and its reminder was not moved meanwhile. */
export const remindJob: JobKind = {
  words: $localize`a reminder of a task`,
  effect: 'database',
  run: async (w, payload) => {
    const { taskId, at } = payloadShape.parse(payload);
    const row = await readReminder(w, taskId);
    if (!row || row.state !== 'open' || row.remind_at !== sqlInstant(at)) return;
    const about = row.name ? ` · ${row.name}` : '';
    const path = row.contact_id
      ? `/people/${idOf<string>(row.contact_id)}`
      : `/deals/${row.deal_id ? idOf<string>(row.deal_id) : ''}`;
    await notify(
      w,
      'time',
      [idOf(row.owner_id)],
      $localize`Due ${sayDate(row.due_on, w.now.slice(0, 10))}:dueon:: ${row.purpose}:purpose:${about}:about:`,
      path,
    );
  },
};
