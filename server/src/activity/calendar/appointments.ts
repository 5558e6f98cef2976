import type { Appointment, ContactId, DealId, TaskId, UserId } from '@kettle/contract';
import { channelsThat } from '@kettle/contract/base/channels';
import type { Queryable } from '../../platform/database/database';
import type { Row, Tables } from '../../platform/database/schema.generated';
import { instantOf } from '../../platform/database/values';
import { bytesOf, idOf, idOrNull, newId } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { Work } from '../../platform/work/work';

/** Channels on which somebody is met at an appointed time. */
export const metChannels = channelsThat(({ isMet }) => isMet === true);

/** Whose an appointment `a` is, of the ids in `:people`. Relies on appointment_of_day. */
export const isOwn = 'a.owner_id IN (:people)';

/** It is a colleague's, and they come to it. Relies on the key of a guest's user. */
export const isJoined =
  'a.id IN (SELECT had.appointment_id FROM appointment_guest had WHERE had.user_id IN (:people)) AND a.owner_id NOT IN (:people)';

/**
 * Appointments that people have, as one statement of two halves, so that each goes by an index of its own: asked with OR, every appointment there
 * is would be read.
 * @param condition on `a`
 */
export function hadBy(
  columns: string,
  { condition, joins = '' }: { condition: string; joins?: string },
): string {
  const half = (whose: string) =>
    `SELECT ${columns} FROM appointment a ${joins} WHERE ${whose} AND ${condition}`;
  return `${half(isOwn)} UNION ${half(isJoined)}`;
}

type AppointmentRow = Row<
  'appointment',
  | 'id'
  | 'title'
  | 'owner_id'
  | 'starts_at'
  | 'ends_at'
  | 'place'
  | 'travel_minutes'
  | 'travel_after_minutes'
  | 'note'
  | 'channel'
  | 'contact_id'
  | 'deal_id'
  | 'task_id'
  | 'state'
  | 'remind_minutes'
  | 'invites'
  | 'version'
> & {
  owner_name: Tables['app_user']['name'];
  contact_name: string | null;
  company_name: string | null;
  deal_name: string | null;
};

/** @throws Problem `not-found` */
export async function readAppointment(db: Queryable, id: string): Promise<Appointment> {
  const [row] = await db.rows<AppointmentRow>(
    `SELECT a.id, a.title, a.owner_id, o.name AS owner_name, a.starts_at, a.ends_at, a.place, a.travel_minutes, a.travel_after_minutes,
            a.note, a.channel, a.contact_id, c.display_name AS contact_name, c.company_name, a.deal_id, d.name AS deal_name,
            a.task_id, a.state, COALESCE(t.remind_minutes, a.remind_minutes) AS remind_minutes, a.invites, a.version
       FROM appointment a JOIN app_user o ON o.id = a.owner_id LEFT JOIN contact c ON c.id = a.contact_id
       LEFT JOIN deal d ON d.id = a.deal_id LEFT JOIN task t ON t.id = a.task_id WHERE a.id = :id`,
    { id: bytesOf(id) },
  );
  if (!row) throw new Problem('not-found');
  const guests = await db.rows<Row<'appointment_guest', 'contact_id' | 'user_id'> & { name: string }>(
    `SELECT g.contact_id, g.user_id, COALESCE(c.display_name, u.name) AS name FROM appointment_guest g
       LEFT JOIN contact c ON c.id = g.contact_id LEFT JOIN app_user u ON u.id = g.user_id
      WHERE g.appointment_id = :id ORDER BY g.id`,
    { id: bytesOf(id) },
  );
  return {
    id: idOf(row.id),
    title: row.title,
    ownerId: idOf<UserId>(row.owner_id),
    ownerName: row.owner_name,
    startsAt: instantOf(row.starts_at),
    endsAt: instantOf(row.ends_at),
    place: row.place,
    travelMinutes: row.travel_minutes,
    travelAfterMinutes: row.travel_after_minutes,
    note: row.note,
    channel: row.channel as Appointment['channel'],
    contactId: idOrNull<ContactId>(row.contact_id),
    contactName: row.contact_name,
    companyName: row.company_name,
    dealId: idOrNull<DealId>(row.deal_id),
    dealName: row.deal_name,
    guests: guests.flatMap(({ contact_id: contact, name }) =>
      contact === null ? [] : [{ contactId: idOf<ContactId>(contact), name }],
    ),
    colleagues: guests.flatMap(({ user_id: user, name }) =>
      user === null ? [] : [{ userId: idOf<UserId>(user), name }],
    ),
    taskId: idOrNull<TaskId>(row.task_id),
    state: row.state,
    remindMinutes: row.remind_minutes,
    invites: row.invites === 1,
    invitations: await readInvitations(db, id),
    version: row.version,
  };
}

/** Who was invited and is still, in the order of their addresses. */
async function readInvitations(db: Queryable, id: string): Promise<Appointment['invitations']> {
  const rows = await db.rows<
    Row<
      'invitation',
      'contact_id' | 'name' | 'email' | 'answer' | 'counter_starts_at' | 'counter_ends_at' | 'words'
    >
  >(
    `SELECT contact_id, name, email, answer, counter_starts_at, counter_ends_at, words FROM invitation
      WHERE invited_id = :id AND NOT is_withdrawn ORDER BY email`,
    { id: bytesOf(id) },
  );
  return rows.map(({ counter_starts_at: from, counter_ends_at: to, ...row }) => ({
    contactId: idOf<ContactId>(row.contact_id),
    name: row.name,
    email: row.email,
    answer: row.answer,
    counter: from === null || to === null ? null : { startsAt: instantOf(from), endsAt: instantOf(to) },
    words: row.words,
  }));
}

export interface Guests {
  readonly guestIds: readonly string[];
  readonly colleagueIds: readonly string[];
}

/** Makes the guests those named: who is there already keeps their place. @returns colleagues who were not there before */
export async function writeGuests(
  w: Work,
  id: string,
  { guestIds, colleagueIds }: Guests,
): Promise<string[]> {
  const there = await w.rows<Row<'appointment_guest', 'id' | 'contact_id' | 'user_id'>>(
    'SELECT id, contact_id, user_id FROM appointment_guest WHERE appointment_id = :id ORDER BY id FOR UPDATE',
    { id: bytesOf(id) },
  );
  const keyed = there.map((row) => ({ row, who: idOf<string>((row.contact_id ?? row.user_id)!) }));
  const wanted = new Set([...guestIds, ...colleagueIds]);
  const gone = keyed.filter(({ who }) => !wanted.has(who));
  if (gone.length > 0)
    await w.change('DELETE FROM appointment_guest WHERE id IN (:ids)', {
      ids: gone.map(({ row }) => row.id),
    });
  const known = new Set(keyed.map(({ who }) => who));
  const isNew = (who: string) => !known.has(who);
  const rows = [
    ...[...new Set(guestIds)].filter(isNew).map((who) => [who, null] as const),
    ...[...new Set(colleagueIds)].filter(isNew).map((who) => [null, who] as const),
  ];
  if (rows.length > 0)
    await w.change('INSERT INTO appointment_guest (id, appointment_id, contact_id, user_id) VALUES :rows', {
      rows: rows.map(([contact, user]) => [bytesOf(newId()), bytesOf(id), bytesOf(contact), bytesOf(user)]),
    });
  return [...new Set(colleagueIds)].filter(isNew);
}

/** The appointment of a task, if it has one that is still planned. */
export async function appointmentOf(db: Queryable, taskId: string): Promise<Appointment | null> {
  const [row] = await db.rows<Row<'appointment', 'id'>>(
    "SELECT id FROM appointment WHERE task_id = :task AND state = 'planned'",
    { task: bytesOf(taskId) },
  );
  return row === undefined ? null : readAppointment(db, idOf(row.id));
}
