import { localDate } from '@kettle/core/time';
import * as z from 'zod';
import { sqlInstant } from '../../platform/database/values';
import { idOf } from '../../platform/ids';
import type { NewJob } from '../../platform/jobs/job-table';
import type { JobKind } from '../../platform/jobs/worker';
import { OutsideFailure } from '../../platform/outside/fetch-outside';
import type { Services } from '../../platform/services';
import { work } from '../../platform/work/work';
import { readPerson } from '../../records/users/index';
import { findCalendar, isWholeDue, type CalendarRow } from './calendars';
import { keepInStep } from './keep-in-step';
import { expandText, stretchAt, writeEvents } from './write-events';

export const readOutsideKind = 'read-outside-calendar';

/** How often they are read without being asked. */
const everyMinutes = 15;
/** Reads a calendar and may be run again: what it writes is what lies there. */
export const readOutsideJob = (services: Services): JobKind => ({
  words: $localize`reading a calendar elsewhere`,
  effect: 'guarded',
  run: async (payload) => {
    const { id } = z.object({ id: z.uuid() }).parse(payload);
    await readOutside(services, id);
  },
});

/** Those that are to be read again; each job has a key of its quarter of an hour. */
export async function dueCalendars({ database }: Services, now: string): Promise<readonly NewJob[]> {
  const part = Math.floor(Date.parse(now) / (everyMinutes * 60_000));
  const rows = await database.rows<Pick<CalendarRow, 'id'>>(
    `SELECT c.id FROM outside_calendar c JOIN app_user u ON u.id = c.user_id
      WHERE c.removed_at IS NULL AND u.deactivated_at IS NULL
        AND (c.read_at IS NULL OR c.read_at < :now - INTERVAL ${everyMinutes} MINUTE) ORDER BY c.id`,
    { now: sqlInstant(now) },
  );
  return rows.map(({ id }) => ({
    kind: readOutsideKind,
    dedupeKey: `${readOutsideKind}:${idOf<string>(id)}:${part}`,
    payload: { id: idOf<string>(id) },
    dueAt: now,
  }));
}

/** Reads a calendar now; a failure is written down with it, and the events that were known stay. */
export async function readOutside(services: Services, id: string): Promise<void> {
  const calendar = await findCalendar(services.database, id);
  if (calendar === null) return;
  try {
    await (calendar.kind === 'address' ? readAddress(services, calendar) : keepInStep(services, calendar));
  } catch (error) {
    if (!(error instanceof OutsideFailure)) throw error;
    const { message } = error;
    await work(services, null, async (w) => {
      await w.change(
        `UPDATE outside_calendar SET read_at = :now, failing_since = COALESCE(failing_since, :now), failure = :words WHERE id = :id`,
        { now: sqlInstant(w.now), words: message.slice(0, 500), id: calendar.id },
      );
      w.note('appointment', id);
    });
  }
}

async function readAddress(services: Services, calendar: CalendarRow): Promise<void> {
  const { clock, database, channels } = services;
  const { zone } = await readPerson(database, idOf(calendar.user_id));
  const isWhole = isWholeDue(calendar, clock.millis());
  const reply = await channels.fetchOutside(calendar.address, {
    headers: {
      accept: 'text/calendar, text/plain;q=0.5',
      ...(calendar.etag === null || isWhole ? {} : { 'if-none-match': calendar.etag }),
    },
  });
  if (reply.status === 304) return void (await noteRead(services, calendar));
  assertRead(reply.status);
  const { occurrences, isCut } = await expandText(
    services,
    reply.text,
    stretchAt(localDate(clock.now(), zone), zone),
  );
  await work(services, null, async (w) => {
    const isOther = await writeEvents(w, calendar, { hrefs: null, objects: [{ href: '', occurrences }] });
    await w.change(
      `UPDATE outside_calendar SET etag = :etag, whole_at = :now, read_at = :now, failing_since = NULL, failure = NULL, is_cut = :cut,
              changed_at = IF(:other, :now, changed_at) WHERE id = :id`,
      {
        ...{ etag: reply.headers.etag?.slice(0, 500) ?? null, now: sqlInstant(w.now), id: calendar.id },
        ...{ cut: isCut ? 1 : 0, other: isOther ? 1 : 0 },
      },
    );
  });
}

export function assertRead(status: number): void {
  if (status === 200) return;
  if (status === 401 || status === 403)
    throw new OutsideFailure($localize`Nobody may read this address without signing in.`);
  if (status === 404 || status === 410)
    throw new OutsideFailure($localize`Nothing lies at this address any more.`);
  throw new OutsideFailure($localize`The server answered with an error (${status}:status:).`);
}

/** It was read, and nothing is otherwise. */
export async function noteRead(
  { database, clock }: Services,
  { id }: Pick<CalendarRow, 'id'>,
): Promise<void> {
  await database.change(
    'UPDATE outside_calendar SET read_at = :now, failing_since = NULL, failure = NULL WHERE id = :id',
    { now: sqlInstant(clock.now()), id },
  );
}

export const jobNow = (id: string, now: string, key: string): NewJob => ({
  kind: readOutsideKind,
  dedupeKey: `${readOutsideKind}:${id}:${key}`,
  payload: { id },
  dueAt: now,
});
