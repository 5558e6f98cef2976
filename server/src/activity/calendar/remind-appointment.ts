import { addMinutes, localDate, localMinute, sayMinute } from '@kettle/core/time';
import * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { instantOf, sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf } from '../../platform/ids';
import { enqueue } from '../../platform/jobs/job-table';
import type { JobKind } from '../../platform/jobs/worker';
import { notify } from '../../records/notifications/index';

export const remindKind = 'remind-appointment';

type ReminderRow = Row<
  'appointment',
  'title' | 'starts_at' | 'remind_minutes' | 'remind_at' | 'owner_id' | 'state' | 'task_id'
> &
  Row<'app_user', 'zone'>;

async function readReminder(db: Queryable, id: string): Promise<ReminderRow | undefined> {
  const [row] = await db.rows<ReminderRow>(
    `SELECT a.title, a.starts_at, a.remind_minutes, a.remind_at, a.owner_id, a.state, a.task_id, u.zone
       FROM appointment a JOIN app_user u ON u.id = a.owner_id WHERE a.id = :id`,
    { id: bytesOf(id) },
  );
  return row;
}

/**
 * Sets when the owner of an appointment is reminded. Called in the transaction that wrote it; an earlier reminder of the same one then does
 * nothing. One with a customer is a task, which reminds by itself.
 */
export async function planReminder(db: Queryable, id: string): Promise<void> {
  const row = await readReminder(db, id);
  if (!row) return;
  const isOwn = row.task_id === null && row.state === 'planned' && row.remind_minutes !== null;
  const at = isOwn ? addMinutes(instantOf(row.starts_at), -row.remind_minutes!) : null;
  await db.change('UPDATE appointment SET remind_at = :at WHERE id = :id', {
    id: bytesOf(id),
    at: sqlInstant(at),
  });
  if (at === null) return;
  const payload = { id, at };
  await enqueue(db, { kind: remindKind, dedupeKey: `${remindKind}:${id}:${at}`, payload, dueAt: at });
}

const payloadShape = z.object({ id: z.uuid(), at: z.string() });

/** Tells the owner, if the appointment still is and its reminder was not moved meanwhile. */
export const remindJob: JobKind = {
  words: $localize`a reminder of an appointment`,
  effect: 'database',
  run: async (w, payload) => {
    const { id, at } = payloadShape.parse(payload);
    const row = await readReminder(w, id);
    if (!row || row.state !== 'planned' || row.remind_at !== sqlInstant(at)) return;
    const startsAt = instantOf(row.starts_at);
    const time = sayMinute(localMinute(startsAt, row.zone));
    await notify(
      w,
      'time',
      [idOf<string>(row.owner_id)],
      $localize`At ${time}:time:: ${row.title}:title:`,
      `/calendar?on=${localDate(startsAt, row.zone)}&appointment=${id}`,
    );
  },
};
