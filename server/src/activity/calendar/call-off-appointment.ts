import type { Appointment, callOffAppointment as callOffShape } from '@kettle/contract';
import { localDate, localMinute, sayMinute, sayDate } from '@kettle/core/time';
import type * as z from 'zod';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { PersonWork } from '../../platform/work/work';
import { writeSystemEntry } from '../../records/entries/index';
import { readPerson } from '../../records/users/index';
import { planTask, writeTask } from '../tasks/index';
import { readAppointment } from './appointments';
import { lockAppointment } from './change-appointment';
import { followTasks } from './keep-appointments';
import { tellColleagues } from './plan-appointment';
import { planReminder } from './remind-appointment';

type Body = z.output<typeof callOffShape>;

/**
 * Calls an appointment off, and in the same act sets what comes instead: another time, a step that finds one, or nothing. The journal of whoever
 * was to be met says so.
 * @throws Problem `not-found`, `not-yours`, `stale`, `already-done`, `reason-needed` for one with a customer that nothing comes instead of
 */
export async function callOffAppointment(w: PersonWork, id: string, asked: Body): Promise<Appointment> {
  const before = await lockAppointment(w, id);
  if (asked.version !== before.version) throw new Problem('stale', {}, { current: before });
  const { instead, reason } = asked;
  const isWithCustomer = before.taskId !== null;
  if (isWithCustomer && reason === '' && instead.kind === 'none')
    throw new Problem(
      'reason-needed',
      {},
      {
        fields: [{ path: 'reason', message: $localize`says why nothing comes instead` }],
      },
    );
  if (instead.kind === 'moved') await move(w, before, instead);
  else await drop(w, before, reason);
  if (instead.kind === 'task') await planInstead(w, before, instead);
  const after = await readAppointment(w, id);
  if (isWithCustomer) await writeDown(w, before, after, asked);
  await tellColleagues(w, before, {
    ids: before.colleagues.map(({ userId }) => userId),
    words: (when) =>
      after.state === 'planned'
        ? $localize`${before.title}:title:, ${when}:when:, is called off and has a new time`
        : $localize`${before.title}:title:, ${when}:when:, is called off`,
  });
  w.say($localize`${before.title}:title:: called off`);
  return after;
}

async function move(
  w: PersonWork,
  { id, taskId, ownerId }: Appointment,
  { startsAt, minutes }: Extract<Body['instead'], { kind: 'moved' }>,
): Promise<void> {
  if (startsAt <= w.now)
    throw new Problem(
      'in-the-past',
      {},
      {
        fields: [{ path: 'instead.startsAt', message: $localize`lies in the past` }],
      },
    );
  if (taskId === null) {
    await w.change(
      `UPDATE appointment SET starts_at = :from, ends_at = :from + INTERVAL :minutes MINUTE, version = version + 1 WHERE id = :id`,
      { id: bytesOf(id), from: sqlInstant(startsAt), minutes },
    );
    return planReminder(w, id);
  }
  const { zone } = await readPerson(w, ownerId);
  const dueOn = localDate(startsAt, zone);
  await writeTask(w, taskId, { dueOn, promisedMinute: localMinute(startsAt, zone), minutes });
  await followTasks(w, [bytesOf<string>(taskId)]);
}

async function drop(w: PersonWork, { id, taskId }: Appointment, reason: string): Promise<void> {
  if (taskId === null) {
    await w.change(`UPDATE appointment SET state = 'called-off', version = version + 1 WHERE id = :id`, {
      id: bytesOf(id),
    });
    return;
  }
  await w.change(
    `UPDATE task SET state = 'dropped', drop_reason = :reason, finished_at = :now, version = version + 1 WHERE id = :id AND state = 'open'`,
    { id: bytesOf<string>(taskId), reason: reason || $localize`called off`, now: sqlInstant(w.now) },
  );
  await followTasks(w, [bytesOf<string>(taskId)]);
}

async function planInstead(
  w: PersonWork,
  { contactId, dealId, ownerId }: Appointment,
  { kind: _, ...step }: Extract<Body['instead'], { kind: 'task' }>,
): Promise<void> {
  await planTask(w, { ...step, contactId, dealId, ownerId, repeats: null, remindMinutes: null });
}

async function writeDown(
  w: PersonWork,
  before: Appointment,
  after: Appointment,
  { reason, instead }: Body,
): Promise<void> {
  const { zone } = await readPerson(w, before.ownerId);
  const today = localDate(w.now, zone);
  const sayWhen = (at: string) =>
    `${sayDate(localDate(at, zone), today)} ${sayMinute(localMinute(at, zone))}`;
  const was = sayWhen(before.startsAt);
  const why = reason === '' ? '' : ` (${reason})`;
  const body =
    instead.kind === 'moved'
      ? $localize`Called off: ${before.title}:title:, ${was}:was:${why}:why:. New time: ${sayWhen(after.startsAt)}:now:`
      : $localize`Called off: ${before.title}:title:, ${was}:was:${why}:why:`;
  await writeSystemEntry(w, { body, contactId: before.contactId, dealId: before.dealId, userId: w.who.id });
}
