import type { Appointment, AppointmentId, planAppointment as planShape, TaskId } from '@kettle/contract';
import { addMinutes, localDate, localMinute, sayMinute, sayDate } from '@kettle/core/time';
import type * as z from 'zod';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf, newId } from '../../platform/ids';
import type { PersonWork } from '../../platform/work/work';
import { notify } from '../../records/notifications/index';
import { assertMayChange } from '../../records/rights/index';
import { readPerson } from '../../records/users/index';
import { planTask } from '../tasks/index';
import { readAppointment, writeGuests } from './appointments';
import { followTasks } from './keep-appointments';
import { planReminder } from './remind-appointment';

type Body = z.output<typeof planShape>;

/**
 * Plans an appointment for oneself or somebody one leads. One that is about a person or a deal is a task as well: their next step, and a row of
 * the Round at its time.
 * @throws Problem `in-the-past`, `not-found`, `not-yours`
 */
export async function planAppointment(w: PersonWork, body: Body): Promise<Appointment> {
  const id =
    body.contactId === null && body.dealId === null ? await takeTime(w, body) : await planMeeting(w, body);
  const invited = await writeGuests(w, id, body);
  const made = await readAppointment(w, id);
  await tellColleagues(w, made, {
    ids: invited,
    words: (when) => $localize`${w.who.name}:name: asks you to come: ${made.title}:title:, ${when}:when:`,
  });
  w.say($localize`Appointment planned: ${made.title}:title:`);
  return made;
}

async function planMeeting(w: PersonWork, body: Body): Promise<AppointmentId> {
  const { zone } = await readPerson(w, body.ownerId ?? w.who.id);
  const task = await planTask(w, { ...taskOf(body, zone), ownerId: body.ownerId, repeats: null });
  await followTasks(w, [bytesOf<string>(task.id)]);
  await w.change(
    `UPDATE appointment SET place = :place, travel_minutes = :before, travel_after_minutes = :after, note = :note,
            invites = :invites WHERE task_id = :task`,
    { ...ownColumns(body), invites: body.invites ? 1 : 0, task: bytesOf<TaskId>(task.id) },
  );
  return task.id as string as AppointmentId;
}

async function takeTime(w: PersonWork, body: Body): Promise<AppointmentId> {
  const id = newId<AppointmentId>();
  await assertMayChange(w, w.who, body.ownerId);
  const owner = await readPerson(w, body.ownerId ?? w.who.id);
  await w.change(
    `INSERT INTO appointment (id, owner_id, title, starts_at, ends_at, place, travel_minutes, travel_after_minutes, note, remind_minutes, created_at)
     VALUES (:id, :owner, :title, :startsAt, :endsAt, :place, :before, :after, :note, :remind, :now)`,
    {
      ...ownColumns(body),
      id: bytesOf(id),
      owner: bytesOf(owner.id),
      title: body.title,
      startsAt: sqlInstant(body.startsAt),
      endsAt: sqlInstant(addMinutes(body.startsAt, body.minutes)),
      remind: body.remindMinutes,
      now: sqlInstant(w.now),
    },
  );
  await planReminder(w, id);
  return id;
}

/** What its task knows as well, in the words of a task; the day and the minute are its owner's. */
export const taskOf = (
  body: Pick<Body, 'channel' | 'title' | 'startsAt' | 'minutes' | 'contactId' | 'dealId' | 'remindMinutes'>,
  zone: string,
) => ({
  channel: body.channel ?? 'meeting',
  purpose: body.title,
  dueOn: localDate(body.startsAt, zone),
  promisedMinute: localMinute(body.startsAt, zone),
  minutes: body.minutes,
  contactId: body.contactId,
  dealId: body.dealId,
  remindMinutes: body.remindMinutes,
});

/** What only the appointment knows, also when it has a task. */
export const ownColumns = (body: Pick<Body, 'place' | 'travelMinutes' | 'travelAfterMinutes' | 'note'>) => ({
  place: body.place || null,
  before: body.travelMinutes,
  after: body.travelAfterMinutes,
  note: body.note || null,
});

/** Tells colleagues who come, each in the day and time of their own zone. */
export async function tellColleagues(
  w: PersonWork,
  { id, startsAt }: Appointment,
  { ids, words }: { readonly ids: readonly string[]; words(when: string): string },
): Promise<void> {
  for (const colleague of ids) {
    if (colleague === w.who.id) continue;
    const { zone } = await readPerson(w, colleague as Appointment['ownerId']);
    const on = localDate(startsAt, zone);
    const when = `${sayDate(on, localDate(w.now, zone))} ${sayMinute(localMinute(startsAt, zone))}`;
    await notify(w, 'given', [colleague], words(when), `/calendar?on=${on}&appointment=${id}`);
  }
}
