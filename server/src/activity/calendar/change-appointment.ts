import type { Appointment, changeAppointment as changeShape } from '@kettle/contract';
import { addMinutes, minutesBetween } from '@kettle/core/time';
import type * as z from 'zod';
import { instantOf, sqlInstant } from '../../platform/database/values';
import { bytesOf } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import { mergeChange, sentOf, type FieldsAt } from '../../platform/work/merge-change';
import type { PersonWork } from '../../platform/work/work';
import { assertMayChange } from '../../records/rights/index';
import { readPerson } from '../../records/users/index';
import { planTask, writeTask } from '../tasks/index';
import { readAppointment, writeGuests } from './appointments';
import { followTasks } from './keep-appointments';
import { ownColumns, taskOf, tellColleagues } from './plan-appointment';
import { planReminder } from './remind-appointment';

type Body = z.output<typeof changeShape>;

/** Locks an appointment that is about to be changed. @throws Problem `not-found`, `not-yours`, `already-done` when it is no longer planned */
export async function lockAppointment(w: PersonWork, id: string): Promise<Appointment> {
  await w.rows('SELECT 1 FROM appointment WHERE id = :id FOR UPDATE', { id: bytesOf(id) });
  const appointment = await readAppointment(w, id);
  await assertMayChange(w, w.who, appointment.ownerId);
  if (appointment.state !== 'planned') throw new Problem('already-done', {}, { current: appointment });
  return appointment;
}

/**
 * Changes an appointment or moves it; what others changed of it meanwhile stays, unless it is the same field.
 * @throws Problem `not-found`, `not-yours`, `stale`, `already-done`, `in-the-past`
 */
export async function changeAppointment(w: PersonWork, id: string, asked: Body): Promise<Appointment> {
  const before = await lockAppointment(w, id);
  const current = fieldsOf(before);
  const sent = sentOf(
    await mergeChange(w, { table: 'appointment', id, fields, asked, record: before, current }),
  );
  const body = { ...current, ...sent };
  if (before.taskId !== null && body.contactId === null && body.dealId === null)
    throw new Problem(
      'invalid-request',
      {},
      {
        fields: [
          {
            path: 'contactId',
            message: $localize`is needed: it was planned with a customer. Call it off instead.`,
          },
        ],
      },
    );
  if (body.contactId === null && body.dealId === null) await changeTime(w, id, body);
  else await changeMeeting(w, before, body);
  await w.change(
    `UPDATE appointment SET place = :place, travel_minutes = :before, travel_after_minutes = :after, note = :note,
            remind_minutes = :remind, invites = :invites, version = version + 1 WHERE id = :id`,
    { ...ownColumns(body), remind: body.remindMinutes, invites: body.invites ? 1 : 0, id: bytesOf(id) },
  );
  const invited = await writeGuests(w, id, body);
  await planReminder(w, id);
  const made = await readAppointment(w, id);
  const isMoved = made.startsAt !== before.startsAt || made.endsAt !== before.endsAt;
  const known = made.colleagues.map(({ userId }) => userId).filter((each) => !invited.includes(each));
  await tellColleagues(w, made, {
    ids: invited,
    words: (when) => $localize`${w.who.name}:name: asks you to come: ${made.title}:title:, ${when}:when:`,
  });
  if (isMoved)
    await tellColleagues(w, made, {
      ids: known,
      words: (when) => $localize`${w.who.name}:name: moved ${made.title}:title: to ${when}:when:`,
    });
  w.say(isMoved ? $localize`${made.title}:title:: moved` : $localize`${made.title}:title:: changed`);
  return made;
}

type Fields = ReturnType<typeof fieldsOf>;

/** Time of one's own: nobody else's step depends on it. */
async function changeTime(w: PersonWork, id: string, body: Fields): Promise<void> {
  await assertMayChange(w, w.who, body.ownerId);
  const owner = await readPerson(w, body.ownerId);
  await w.change(
    'UPDATE appointment SET owner_id = :owner, title = :title, starts_at = :from, ends_at = :to WHERE id = :id',
    {
      owner: bytesOf(owner.id),
      title: body.title,
      from: sqlInstant(body.startsAt),
      to: sqlInstant(addMinutes(body.startsAt, body.minutes)),
      id: bytesOf(id),
    },
  );
}

/** What both know is changed at the task; the appointment follows. */
async function changeMeeting(w: PersonWork, before: Appointment, body: Fields): Promise<void> {
  // A step with a customer may be handed to any colleague, as every task may.
  const { zone } = await readPerson(w, body.ownerId);
  const asTask = { ...taskOf(body, zone), ownerId: body.ownerId };
  if (before.taskId === null) {
    // Time of one's own that turns out to be with a customer: their next step from now on.
    const task = await planTask(w, { ...asTask, repeats: null });
    await w.change('UPDATE appointment SET task_id = :task WHERE id = :id', {
      task: bytesOf<string>(task.id),
      id: bytesOf(before.id),
    });
    return followTasks(w, [bytesOf<string>(task.id)]);
  }
  await writeTask(w, before.taskId, asTask);
  await followTasks(w, [bytesOf<string>(before.taskId)]);
}

/** What a change may name, as it is now. */
const fieldsOf = (now: Appointment) => ({
  title: now.title,
  startsAt: now.startsAt,
  minutes: minutesBetween(now.startsAt, now.endsAt),
  place: now.place,
  travelMinutes: now.travelMinutes,
  travelAfterMinutes: now.travelAfterMinutes,
  note: now.note,
  channel: now.channel,
  contactId: now.contactId,
  dealId: now.dealId,
  guestIds: now.guests.map(({ contactId }) => contactId),
  colleagueIds: now.colleagues.map(({ userId }) => userId),
  ownerId: now.ownerId,
  remindMinutes: now.remindMinutes,
  invites: now.invites,
});

/** Where the fields of a change are kept, so that two people's changes meet field by field. */
const fields: FieldsAt<Body> = {
  title: { column: 'title' },
  startsAt: { column: 'starts_at', read: (text) => (text === null ? null : instantOf(text)) },
  // How long it is follows from two columns: of two people the later one has it.
  minutes: 'not kept',
  place: { column: 'place' },
  travelMinutes: { column: 'travel_minutes' },
  travelAfterMinutes: { column: 'travel_after_minutes' },
  note: { column: 'note' },
  channel: { column: 'channel' },
  contactId: { column: 'contact_id' },
  dealId: { column: 'deal_id' },
  guestIds: 'not kept',
  colleagueIds: 'not kept',
  ownerId: { column: 'owner_id' },
  remindMinutes: { column: 'remind_minutes' },
  invites: { column: 'invites' },
};
