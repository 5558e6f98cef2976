import type {
  addOutsideCalendar as added,
  changeOutsideCalendar as changed,
  OutsideCalendar,
  OutsideCalendarId,
  OutsideQuestion,
  UserId,
} from '@kettle/contract';
import type * as z from 'zod';
import type { Queryable, WithKeys } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { instantOf, instantOrNull, sqlInstant, wholeNumber } from '../../platform/database/values';
import { bytesOf, idOf, type IdBytes, newId } from '../../platform/ids';
import { OutsideFailure } from '../../platform/outside/fetch-outside';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import { work, type PersonWork } from '../../platform/work/work';
import type { SignedIn } from '../../records/users/index';
import { Dav } from './dav';

export type CalendarRow = Row<
  'outside_calendar',
  | 'id'
  | 'user_id'
  | 'name'
  | 'kind'
  | 'address'
  | 'login'
  | 'is_busy'
  | 'version'
  | 'etag'
  | 'sync_token'
  | 'whole_at'
  | 'read_at'
  | 'failing_since'
  | 'failure'
  | 'is_cut'
>;

const columns =
  'id, user_id, name, kind, address, login, is_busy, version, etag, sync_token, whole_at, read_at, failing_since, failure, is_cut';

/** What lies far ahead comes into the months that are looked at day by day: all of it is read so often, changed or not. */
const wholeEveryMillis = 20 * 3_600_000;

export const isWholeDue = ({ whole_at: at }: CalendarRow, nowMillis: number): boolean =>
  at === null || nowMillis - Date.parse(instantOf(at)) > wholeEveryMillis;

/** A calendar that is still read. */
export async function findCalendar(db: Queryable, id: string): Promise<CalendarRow | null> {
  const [row] = await db.rows<CalendarRow>(
    `SELECT ${columns} FROM outside_calendar WHERE id = :id AND removed_at IS NULL`,
    { id: bytesOf(id) },
  );
  return row ?? null;
}

/** Nobody sees another's. @throws Problem `not-found` */
export async function ownCalendar(db: Queryable, who: SignedIn, id: string): Promise<CalendarRow> {
  const row = await findCalendar(db, id);
  if (row === null || idOf<UserId>(row.user_id) !== who.id) throw new Problem('not-found');
  return row;
}

export async function listCalendars(db: Queryable, who: SignedIn): Promise<OutsideCalendar[]> {
  const rows = await db.rows<CalendarRow>(
    `SELECT ${columns} FROM outside_calendar WHERE user_id = :user AND removed_at IS NULL ORDER BY created_at, id`,
    { user: bytesOf(who.id) },
  );
  const counts = await countEvents(db, who.id);
  const questions = await readQuestions(db, who.id);
  return rows.map((row) => calendarOf(row, counts, questions));
}

export async function readCalendar(db: Queryable, who: SignedIn, id: string): Promise<OutsideCalendar> {
  const row = await ownCalendar(db, who, id);
  return calendarOf(row, await countEvents(db, who.id), await readQuestions(db, who.id));
}

function calendarOf(
  row: CalendarRow,
  counts: ReadonlyMap<string, number>,
  questions: ReadonlyMap<string, OutsideQuestion[]>,
): OutsideCalendar {
  const id = idOf<OutsideCalendarId>(row.id);
  return {
    id,
    name: row.name,
    kind: row.kind,
    address: row.address,
    login: row.login,
    isBusy: row.is_busy === 1,
    readAt: instantOrNull(row.read_at),
    failingSince: instantOrNull(row.failing_since),
    failure: row.failure,
    events: counts.get(id) ?? 0,
    isCut: row.is_cut === 1,
    questions: questions.get(id) ?? [],
    version: row.version,
  };
}

async function countEvents(db: Queryable, userId: string): Promise<ReadonlyMap<string, number>> {
  const rows = await db.rows<{ calendar_id: IdBytes; events: string }>(
    'SELECT calendar_id, COUNT(*) AS events FROM outside_event WHERE user_id = :user GROUP BY calendar_id ORDER BY calendar_id',
    { user: bytesOf(userId) },
  );
  return new Map(rows.map((row) => [idOf<string>(row.calendar_id), wholeNumber(row.events)]));
}

type QuestionRow = Row<
  'outside_copy',
  | 'calendar_id'
  | 'appointment_id'
  | 'asked'
  | 'their_title'
  | 'their_place'
  | 'their_starts_at'
  | 'their_ends_at'
> &
  Row<'appointment', 'title' | 'place' | 'starts_at' | 'ends_at'>;

async function readQuestions(db: Queryable, userId: string): Promise<ReadonlyMap<string, OutsideQuestion[]>> {
  const rows = await db.rows<QuestionRow>(
    `SELECT k.calendar_id, k.appointment_id, k.asked, k.their_title, k.their_place, k.their_starts_at, k.their_ends_at,
            a.title, a.place, a.starts_at, a.ends_at
       FROM outside_copy k JOIN outside_calendar o ON o.id = k.calendar_id JOIN appointment a ON a.id = k.appointment_id
      WHERE o.user_id = :user AND o.removed_at IS NULL AND k.asked <> 'no' AND a.state = 'planned' ORDER BY a.starts_at, a.id`,
    { user: bytesOf(userId) },
  );
  const found = new Map<string, OutsideQuestion[]>();
  for (const row of rows) {
    const id = idOf<string>(row.calendar_id);
    found.set(id, [...(found.get(id) ?? []), questionOf(row)]);
  }
  return found;
}

const questionOf = (row: QuestionRow): OutsideQuestion => ({
  appointmentId: idOf(row.appointment_id),
  ours: {
    ...{ startsAt: instantOf(row.starts_at), endsAt: instantOf(row.ends_at) },
    ...{ title: row.title, place: row.place },
  },
  theirs:
    row.asked === 'gone' || row.their_starts_at === null || row.their_ends_at === null
      ? null
      : {
          ...{ startsAt: instantOf(row.their_starts_at), endsAt: instantOf(row.their_ends_at) },
          ...{ title: row.their_title ?? '', place: row.their_place },
        },
});

const passwordPlace = (id: string) => `outside_login:${id}:password`;

/** What opens a calendar that is kept in step. */
export async function davOf(
  db: WithKeys,
  services: Pick<Services, 'channels'>,
  row: CalendarRow,
): Promise<Dav> {
  const [found] = await db.rows<Row<'outside_login', 'password'>>(
    'SELECT password FROM outside_login WHERE calendar_id = :id',
    { id: row.id },
  );
  if (!found || row.login === null)
    throw new OutsideFailure($localize`Its password is not here any more. Add the calendar anew.`);
  const password = db.keys.open(passwordPlace(idOf(row.id)), found.password).toString('utf8');
  return new Dav(services.channels.fetchOutside, { login: row.login, password });
}

/** Seals with the first key of the key file what was sealed with another. @throws Error when a key is not in the file */
export async function sealCalendarLogins(db: WithKeys): Promise<void> {
  const rows = await db.rows<Row<'outside_login', 'calendar_id' | 'password'>>(
    'SELECT calendar_id, password FROM outside_login ORDER BY calendar_id',
  );
  for (const { calendar_id: id, password } of rows) {
    if (db.keys.isFresh(password)) continue;
    const place = passwordPlace(idOf(id));
    await db.change(
      'UPDATE outside_login SET password = :sealed WHERE calendar_id = :id AND password = :password',
      {
        ...{ id, password },
        sealed: db.keys.seal(place, db.keys.open(place, password)),
      },
    );
  }
}

/** Writes a calendar down; it is read afterwards. */
export async function writeCalendarRow(
  services: Services,
  who: SignedIn,
  asked: z.output<typeof added>,
): Promise<string> {
  return work(services, who, async (w) => {
    const [same] = await w.rows(
      'SELECT 1 FROM outside_calendar WHERE user_id = :user AND address = :address AND removed_at IS NULL FOR UPDATE',
      { user: bytesOf(who.id), address: asked.address },
    );
    if (same !== undefined)
      throw new Problem(
        'invalid-request',
        {},
        { fields: [{ path: 'address', message: $localize`is in your calendar already` }] },
      );
    const id = newId<string>();
    await w.change(
      `INSERT INTO outside_calendar (id, user_id, name, kind, address, login, is_busy, created_at, changed_at)
       VALUES (:id, :user, :name, :kind, :address, :login, :busy, :now, :now)`,
      {
        ...{ id: bytesOf(id), user: bytesOf(who.id), name: asked.name, kind: asked.kind },
        ...{ address: asked.address, login: asked.kind === 'both-ways' ? asked.login : null },
        ...{ busy: asked.isBusy ? 1 : 0, now: sqlInstant(w.now) },
      },
    );
    if (asked.kind === 'both-ways')
      await w.change('INSERT INTO outside_login (calendar_id, password) VALUES (:id, :password)', {
        id: bytesOf(id),
        password: w.keys.seal(passwordPlace(id), Buffer.from(asked.password, 'utf8')),
      });
    w.say($localize`Calendar added: ${asked.name}:name:`);
    return id;
  });
}

export async function changeCalendar(
  w: PersonWork,
  id: string,
  { name, isBusy }: z.output<typeof changed>,
): Promise<OutsideCalendar> {
  await ownCalendar(w, w.who, id);
  await w.change(
    'UPDATE outside_calendar SET name = :name, is_busy = :busy, version = version + 1 WHERE id = :id',
    { name, busy: isBusy ? 1 : 0, id: bytesOf(id) },
  );
  w.say($localize`Calendar changed: ${name}:name:`);
  return readCalendar(w, w.who, id);
}

/** What was read of it goes with it; what we wrote there stays there. Undone, it is read again. */
export async function removeCalendar(w: PersonWork, id: string): Promise<void> {
  const { name } = await ownCalendar(w, w.who, id);
  await w.change('UPDATE outside_calendar SET removed_at = :now, version = version + 1 WHERE id = :id', {
    now: sqlInstant(w.now),
    id: bytesOf(id),
  });
  w.say($localize`Calendar removed: ${name}:name:`);
}
