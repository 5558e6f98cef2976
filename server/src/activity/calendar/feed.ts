import express, { type Response, type Router } from 'express';
import type { CalendarFeed } from '@kettle/contract';
import { writeCalendar, type CalendarEvent, type CalendarTodo } from '@kettle/core/invitations';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { instantOf, instantOrNull, sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf, type IdBytes } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { work } from '../../platform/work/work';
import { hadBy } from './appointments';
import { hashOfToken, newToken, type SignedIn } from '../../records/users/index';

export async function readFeed(db: Queryable, userId: string): Promise<CalendarFeed['feed']> {
  const [row] = await db.rows<Row<'calendar_feed', 'created_at' | 'read_at'>>(
    'SELECT created_at, read_at FROM calendar_feed WHERE user_id = :user',
    { user: bytesOf(userId) },
  );
  return row === undefined
    ? null
    : { createdAt: instantOf(row.created_at), readAt: instantOrNull(row.read_at) };
}

/** A new secret address; one made before leads nowhere from now on. */
export async function makeFeed(services: Services, who: SignedIn): Promise<string> {
  const { token, hash } = newToken();
  await work(services, who, async (w) => {
    await w.change(
      `INSERT INTO calendar_feed (user_id, token_hash, created_at) VALUES (:user, :hash, :now)
       ON DUPLICATE KEY UPDATE token_hash = :hash, created_at = :now, read_at = NULL`,
      { user: bytesOf(who.id), hash, now: sqlInstant(w.now) },
    );
  });
  return `${services.channels.publicOrigin}/out/calendar/${token}.ics`;
}

export async function removeFeed(services: Services, who: SignedIn): Promise<void> {
  await work(services, who, async (w) => {
    await w.change('DELETE FROM calendar_feed WHERE user_id = :user', { user: bytesOf(who.id) });
  });
}

const daysBack = 60;
const daysAhead = 400;
const mostRows = 5000;
/** Programs that subscribe ask every few minutes: that it is used is worth knowing by the hour. */
const noteEveryMillis = 3_600_000;

/** The calendar of whoever made the address, for programs that cannot sign in: appointments, and open tasks as things to do. Read only. */
export function feedRoutes(services: Services): Router {
  const { database } = services;
  const router = express.Router();
  router.get('/:file', async ({ params }, response) => {
    const [, token] = /^([\w-]{43})\.ics$/.exec(params.file) ?? [];
    const feed = token === undefined ? null : await findFeed(database, token);
    if (feed === null)
      return void response
        .status(404)
        .type('text/plain')
        .send($localize`This address leads nowhere.`);
    await noteReading(services, feed);
    const text = await calendarText(services, feed);
    // Express says by its ETag whether anything changed; nobody on the way keeps it.
    response.set('Cache-Control', 'private, no-cache').type('text/calendar; charset=utf-8').send(text);
  });
  return router;
}

/** The calendar of somebody: own appointments and those of colleagues they come to, and open tasks. */
async function calendarText(
  services: Services,
  { userId, name }: Pick<Feed, 'userId' | 'name'>,
): Promise<string> {
  return writeCalendar({
    name: $localize`${name}:name:, Ash Kettle`,
    events: await readEvents(services, userId, services.clock.millis()),
    todos: await readTodos(services, userId),
  });
}

/** One's own calendar as a file to take along. */
export async function sendCalendarFile(
  services: Services,
  who: SignedIn,
  response: Response,
): Promise<'answered'> {
  response
    .set('Content-Disposition', 'attachment; filename="calendar.ics"')
    .set('Cache-Control', 'no-store')
    .type('text/calendar; charset=utf-8')
    .send(await calendarText(services, { userId: bytesOf(who.id), name: who.name }));
  return 'answered';
}

interface Feed {
  readonly userId: IdBytes;
  readonly name: string;
  readonly readAt: string | null;
}

async function findFeed(db: Queryable, token: string): Promise<Feed | null> {
  const [row] = await db.rows<Row<'calendar_feed', 'user_id' | 'read_at'> & Row<'app_user', 'name'>>(
    `SELECT f.user_id, f.read_at, u.name FROM calendar_feed f JOIN app_user u ON u.id = f.user_id
      WHERE f.token_hash = :hash AND u.deactivated_at IS NULL`,
    { hash: hashOfToken(token) },
  );
  return row === undefined ? null : { userId: row.user_id, name: row.name, readAt: row.read_at };
}

async function noteReading({ database, clock }: Services, { userId, readAt }: Feed): Promise<void> {
  if (readAt !== null && clock.millis() - Date.parse(instantOf(readAt)) < noteEveryMillis) return;
  await database.change('UPDATE calendar_feed SET read_at = :now WHERE user_id = :user', {
    user: userId,
    now: sqlInstant(clock.now()),
  });
}

type EventRow = Row<
  'appointment',
  'id' | 'title' | 'place' | 'starts_at' | 'ends_at' | 'created_at' | 'version'
> & { contact_name: string | null };

/** Own ones and those of colleagues they come to; stamped so that what did not change reads the same. */
async function readEvents(
  { database, channels }: Services,
  userId: IdBytes,
  nowMillis: number,
): Promise<CalendarEvent[]> {
  const day = 86_400_000;
  const rows = await database.rows<EventRow>(
    `${hadBy(
      'a.id, a.title, a.place, a.starts_at, a.ends_at, a.created_at, a.version, c.display_name AS contact_name',
      {
        condition: "a.starts_at > :from AND a.starts_at < :to AND a.state <> 'called-off'",
        joins: 'LEFT JOIN contact c ON c.id = a.contact_id',
      },
    )} ORDER BY starts_at, id LIMIT ${mostRows}`,
    {
      people: [userId],
      from: sqlInstant(new Date(nowMillis - daysBack * day).toISOString()),
      to: sqlInstant(new Date(nowMillis + daysAhead * day).toISOString()),
    },
  );
  return rows.map((row) => ({
    uid: `${idOf(row.id)}@${channels.mailDomain}`,
    sequence: row.version - 1,
    stampedAt: instantOf(row.created_at),
    startsAt: instantOf(row.starts_at),
    endsAt: instantOf(row.ends_at),
    title: titleOf(row.contact_name, row.title),
    place: row.place,
    description: null,
    isCancelled: false,
    organizer: null,
    attendees: [],
  }));
}

type TodoRow = Row<'task', 'id' | 'purpose' | 'due_on' | 'promised_at' | 'created_at' | 'version'> & {
  contact_name: string | null;
};

/** Open tasks that are no appointment. */
async function readTodos({ database, channels }: Services, userId: IdBytes): Promise<CalendarTodo[]> {
  const rows = await database.rows<TodoRow>(
    `SELECT t.id, t.purpose, t.due_on, t.promised_at, t.created_at, t.version, c.display_name AS contact_name
       FROM task t LEFT JOIN contact c ON c.id = t.contact_id
      WHERE t.owner_id = :user AND t.state = 'open' AND NOT t.is_automatic
        AND NOT EXISTS (SELECT 1 FROM appointment a WHERE a.task_id = t.id AND a.state = 'planned')
      ORDER BY t.due_on, t.id LIMIT ${mostRows}`,
    { user: userId },
  );
  return rows.map((row) => ({
    uid: `task-${idOf(row.id)}@${channels.mailDomain}`,
    sequence: row.version - 1,
    stampedAt: instantOf(row.created_at),
    due: row.promised_at === null ? { on: row.due_on } : { at: instantOf(row.promised_at) },
    title: titleOf(row.contact_name, row.purpose),
    description: null,
  }));
}

const titleOf = (name: string | null, words: string) => (name === null ? words : `${name}: ${words}`);
