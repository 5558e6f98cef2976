import type { AppointmentId, Instant, UserId } from '@kettle/contract';
import { readCalendar as readText, writeCalendar } from '@kettle/core/invitations';
import { addMinutes, localDate, minutesBetween } from '@kettle/core/time';
import type { Row } from '../../platform/database/schema.generated';
import { instantOf, sqlInstant } from '../../platform/database/values';
import { idOf, type IdBytes } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import { work, type PersonWork, type Work } from '../../platform/work/work';
import { changeAppointment } from '../../activity/calendar/index';
import { notify } from '../../records/notifications/index';
import { readPerson, readSignedIn } from '../../records/users/index';
import { davOf, isWholeDue, type CalendarRow } from './calendars';
import type { Dav, DavObject } from './dav';
import { expandText, stretchAt, writeEvents, type EventsOf } from './write-events';

/** What of an appointment both calendars have. */
export interface Side {
  readonly title: string;
  readonly place: string | null;
  readonly startsAt: Instant;
  readonly endsAt: Instant;
}

export type Copy = Row<
  'outside_copy',
  'appointment_id' | 'href' | 'etag' | 'title' | 'place' | 'starts_at' | 'ends_at' | 'asked'
>;

export const copyColumns = 'appointment_id, href, etag, title, place, starts_at, ends_at, asked';

interface Step {
  readonly services: Services;
  readonly calendar: CalendarRow;
  readonly dav: Dav;
}

/**
 * Keeps somebody's appointments and a calendar elsewhere in step. First what changed there is read: what is theirs becomes time that is taken;
 * what is ours and was changed there is changed here, field by field, and where both sides changed the same it is asked which counts. Then what
 * is new, changed or off here is written there, each only onto what was known of it. All of it may be run again after a crash at any point:
 * what was written and not noted is found there by its name.
 * @throws OutsideFailure
 */
export async function keepInStep(services: Services, calendar: CalendarRow): Promise<void> {
  const dav = await davOf(services.database, services, calendar);
  const step = { services, calendar, dav };
  await takeTheirs(step);
  await giveOurs(step);
}

async function readCopies({ services, calendar }: Step): Promise<Map<string, Copy>> {
  const rows = await services.database.rows<Copy>(
    `SELECT ${copyColumns} FROM outside_copy WHERE calendar_id = :id ORDER BY appointment_id`,
    { id: calendar.id },
  );
  return new Map(rows.map((row) => [row.href, row]));
}

async function takeTheirs(step: Step): Promise<void> {
  const { services, calendar, dav } = step;
  const { clock, database } = services;
  const { zone } = await readPerson(database, idOf(calendar.user_id));
  const isWhole = isWholeDue(calendar, clock.millis());
  const told = await dav.changes(calendar.address, isWhole ? null : calendar.sync_token);
  const copies = await readCopies(step);
  const isKnown = ({ href, etag }: { href: string; etag: string }) => copies.get(href)?.etag === etag;
  const objects = await dav.read(
    calendar.address,
    told.changed.filter((each) => !isKnown(each)).map(({ href }) => href),
  );
  const theirs: EventsOf[] = [];
  let isCut = false;
  const stretch = stretchAt(localDate(clock.now(), zone), zone);
  for (const object of objects) {
    const copy = copies.get(object.href);
    if (copy) await takeChange(step, copy, object, zone);
    else if (!isOurs(services, object.text)) {
      const expanded = await expandText(services, object.text, stretch).catch(() => null);
      if (expanded !== null) theirs.push({ href: object.href, occurrences: expanded.occurrences });
      isCut ||= expanded?.isCut === true;
    }
  }
  const there = new Set(told.changed.map(({ href }) => href));
  const gone = [...copies.values()].filter(({ href }) =>
    told.isWhole ? !there.has(href) : told.gone.includes(href),
  );
  for (const copy of gone) await takeRemoval(step, copy);
  await work(services, null, async (w) => {
    const hrefs = told.isWhole ? null : [...told.gone, ...objects.map(({ href }) => href)];
    const isOther = await writeEvents(w, calendar, { hrefs, objects: theirs });
    await w.change(
      `UPDATE outside_calendar SET sync_token = :token, whole_at = IF(:whole, :now, whole_at), read_at = :now, failing_since = NULL,
              failure = NULL, is_cut = :cut, changed_at = IF(:other, :now, changed_at) WHERE id = :id`,
      {
        ...{ token: told.token?.slice(0, 1500) ?? null, whole: told.isWhole ? 1 : 0, now: sqlInstant(w.now) },
        ...{
          cut: isCut || (!told.isWhole && calendar.is_cut === 1) ? 1 : 0,
          other: isOther ? 1 : 0,
          id: calendar.id,
        },
      },
    );
  });
}

const uidOf = ({ channels }: Services, id: string) => `${id}@${channels.mailDomain}`;

/** What we wrote, or another calendar has of us: it takes no time beside the appointment itself. */
const isOurs = ({ channels }: Services, text: string) =>
  new RegExp(`^UID:[0-9a-f-]{36}@${channels.mailDomain.replaceAll('.', '\\.')}\\s*$`, 'im').test(text);

type Ours = Row<'appointment', 'id' | 'title' | 'place' | 'starts_at' | 'ends_at' | 'state' | 'version'>;

const sideOf = (row: Pick<Ours, 'title' | 'place' | 'starts_at' | 'ends_at'>): Side => ({
  ...{ title: row.title, place: row.place },
  ...{ startsAt: instantOf(row.starts_at), endsAt: instantOf(row.ends_at) },
});

const fields = ['title', 'place', 'startsAt', 'endsAt'] as const;
const isSame = (one: Side, other: Side) => fields.every((field) => one[field] === other[field]);

/** Field by field: whoever changed one has it. Times go together: a beginning of one side with the end of another is nobody's. */
export function mergeSides(
  base: Side,
  ours: Side,
  theirs: Side,
): { readonly merged: Side; readonly isAsked: boolean } {
  let isAsked = false;
  const pick = <Part>(read: (side: Side) => Part): Part => {
    const [was, here, there] = [base, ours, theirs].map((side) => JSON.stringify(read(side)));
    if (here !== was && there !== was && here !== there) isAsked = true;
    return read(here === was ? theirs : ours);
  };
  const title = pick((side) => side.title);
  const place = pick((side) => side.place);
  const [startsAt, endsAt] = pick((side) => [side.startsAt, side.endsAt] as const);
  return { merged: { title, place, startsAt, endsAt }, isAsked };
}

/** One of ours was changed there: here it is changed in its owner's name, in one transaction with what both know from now on. */
async function takeChange(
  { services, calendar }: Step,
  copy: Copy,
  { etag, text }: DavObject,
  zone: string,
): Promise<void> {
  const theirs = sideIn(text, zone, copy.title);
  if (theirs === null) return takeRemoval({ services, calendar }, copy);
  const userId = idOf<UserId>(calendar.user_id);
  const owner = await readSignedIn(services.database, userId, services.clock.now());
  const take = (w: PersonWork) => takeInto(w, calendar, { copy, etag, theirs });
  await work(services, owner, take).catch(async (error: unknown) => {
    // It may not be so here, as a time that has passed: whoever has it says what counts.
    if (!(error instanceof Problem)) throw error;
    await work(services, null, (w) => ask(w, calendar, { copy, etag, theirs }));
  });
}

interface Taken {
  readonly copy: Copy;
  readonly etag: string | null;
  readonly theirs: Side;
}

async function takeInto(w: PersonWork, calendar: CalendarRow, { copy, etag, theirs }: Taken): Promise<void> {
  const base = sideOf(copy);
  const ours = await lockOurs(w, copy.appointment_id);
  if (ours?.state !== 'planned') return noteCopy(w, calendar, { copy, etag, side: base });
  if (isSame(theirs, base)) return noteCopy(w, calendar, { copy, etag, side: base, isStillAsked: true });
  const { merged, isAsked } = mergeSides(base, sideOf(ours), theirs);
  if (isAsked || !isPossible(merged)) return ask(w, calendar, { copy, etag, theirs });
  await noteCopy(w, calendar, { copy, etag, side: theirs });
  if (!isSame(merged, sideOf(ours))) await changeHere(w, calendar, ours, merged);
}

/** Changes the appointment as it was changed there, and says so: it can be taken back as any change. */
export async function changeHere(
  w: PersonWork,
  calendar: Pick<CalendarRow, 'name'>,
  ours: Pick<Ours, 'id' | 'version'>,
  side: Side,
): Promise<void> {
  const made = await changeAppointment(w, idOf<AppointmentId>(ours.id), {
    version: ours.version,
    ...{ title: side.title, place: side.place, startsAt: side.startsAt },
    minutes: minutesBetween(side.startsAt, side.endsAt),
  });
  const words = $localize`${made.title}:title:: changed in ${calendar.name}:calendar:`;
  w.say(words);
  await notify(
    w,
    'time',
    [w.who.id],
    words,
    `/calendar?on=${localDate(made.startsAt, w.who.zone)}&shape=day`,
  );
}

const isPossible = ({ startsAt, endsAt }: Side) => {
  const minutes = minutesBetween(startsAt, endsAt);
  return minutes >= 5 && minutes <= 1440;
};

/** An appointment as an object of a calendar says it; null when it is off there. */
function sideIn(text: string, zone: string, title: string): Side | null {
  const event = readText(text, zone)?.events[0];
  if (event === undefined || event.isCancelled) return null;
  return {
    title: event.title.slice(0, 200) || title,
    place: event.place === null ? null : event.place.slice(0, 160),
    ...{ startsAt: event.startsAt, endsAt: event.endsAt },
  };
}

/** It was deleted there. What is off here too is at rest; what is planned is asked for. */
async function takeRemoval({ services, calendar }: Omit<Step, 'dav'>, copy: Copy): Promise<void> {
  await work(services, null, async (w) => {
    const ours = await lockOurs(w, copy.appointment_id);
    if (ours?.state === 'planned' && instantOf(ours.ends_at) > w.now)
      return ask(w, calendar, { copy, etag: null, theirs: null });
    await w.change('DELETE FROM outside_copy WHERE calendar_id = :calendar AND appointment_id = :id', {
      calendar: calendar.id,
      id: copy.appointment_id,
    });
  });
}

async function lockOurs(w: Work, id: IdBytes): Promise<Ours | undefined> {
  const [row] = await w.rows<Ours>(
    'SELECT id, title, place, starts_at, ends_at, state, version FROM appointment WHERE id = :id FOR UPDATE',
    { id },
  );
  return row;
}

interface Noted {
  readonly copy: Pick<Copy, 'appointment_id' | 'href'>;
  readonly etag: string | null;
  readonly side: Side;
  /** A question that stands is not answered by this. */
  readonly isStillAsked?: boolean;
}

/** What both sides know of it now. */
export async function noteCopy(
  w: Pick<Work, 'change'>,
  calendar: Pick<CalendarRow, 'id'>,
  { copy, etag, side, isStillAsked = false }: Noted,
): Promise<void> {
  await w.change(
    `INSERT INTO outside_copy (calendar_id, appointment_id, href, etag, title, place, starts_at, ends_at)
     VALUES (:calendar, :id, :href, :etag, :title, :place, :from, :to)
     ON DUPLICATE KEY UPDATE href = :href, etag = :etag, title = :title, place = :place, starts_at = :from, ends_at = :to, asked = IF(:still, asked, 'no')`,
    {
      still: isStillAsked ? 1 : 0,
      ...{ calendar: calendar.id, id: copy.appointment_id, href: copy.href, etag },
      ...{
        title: side.title,
        place: side.place,
        from: sqlInstant(side.startsAt),
        to: sqlInstant(side.endsAt),
      },
    },
  );
}

/** Both sides changed the same: nothing is written anywhere until somebody says which counts. */
async function ask(
  w: Work,
  calendar: CalendarRow,
  { copy, etag, theirs }: { readonly copy: Copy; readonly etag: string | null; readonly theirs: Side | null },
): Promise<void> {
  const taken = await w.change(
    `UPDATE outside_copy SET asked = :asked, etag = :etag, their_title = :title, their_place = :place, their_starts_at = :from,
            their_ends_at = :to WHERE calendar_id = :calendar AND appointment_id = :id`,
    {
      ...{
        asked: theirs === null ? 'gone' : 'changed',
        etag,
        calendar: calendar.id,
        id: copy.appointment_id,
      },
      ...{ title: theirs?.title ?? null, place: theirs?.place ?? null },
      from: theirs === null ? null : sqlInstant(theirs.startsAt),
      to: theirs === null ? null : sqlInstant(theirs.endsAt),
    },
  );
  if (taken === 0 || copy.asked !== 'no') return;
  const words =
    theirs === null
      ? $localize`${copy.title}:title: was deleted in ${calendar.name}:calendar:. Is it off?`
      : $localize`${copy.title}:title: was changed here and in ${calendar.name}:calendar:. Which counts?`;
  await notify(w, 'answer', [idOf<UserId>(calendar.user_id)], words, '/settings?part=calendars');
  w.note('appointment', idOf<string>(copy.appointment_id));
}

/** Writes there what is new, changed or off here. */
async function giveOurs(step: Step): Promise<void> {
  const { services, calendar, dav } = step;
  const { database, clock } = services;
  const copies = new Map(
    [...(await readCopies(step)).values()].map((copy) => [idOf<string>(copy.appointment_id), copy]),
  );
  const rows = await database.rows<Ours>(
    `SELECT a.id, a.title, a.place, a.starts_at, a.ends_at, a.state, a.version FROM appointment a
      WHERE a.owner_id = :user AND a.state = 'planned' AND a.starts_at < :to AND a.ends_at > :now ORDER BY a.starts_at, a.id`,
    {
      user: calendar.user_id,
      now: sqlInstant(clock.now()),
      to: sqlInstant(addMinutes(clock.now(), 370 * 1440)),
    },
  );
  const base = new URL(calendar.address).pathname.replace(/\/?$/, '/');
  for (const row of rows) {
    const id = idOf<AppointmentId>(row.id);
    const copy = copies.get(id);
    copies.delete(id);
    const text = textOf(services, row);
    // As it can be written: what a calendar cannot say is no change of theirs.
    const side = sideIn(text, 'UTC', row.title) ?? sideOf(row);
    if (copy && (copy.asked !== 'no' || isSame(sideOf(copy), side))) continue;
    const href = copy?.href ?? `${base}${id}.ics`;
    const written = await dav.write(calendar.address, href, text, copy?.etag ?? null);
    if (written.kind === 'written')
      await noteCopy(database, calendar, {
        copy: { appointment_id: row.id, href },
        etag: written.etag ?? (await etagOf(dav, calendar, href)),
        side,
      });
    else if (!copy) await adopt(step, row, href);
  }
  for (const copy of copies.values()) await takeBack(step, copy);
}

/** It lies there already: we wrote it and were stopped before that was noted. What it says there is what both know. */
async function adopt({ services, calendar, dav }: Step, row: Ours, href: string): Promise<void> {
  const [object] = await dav.read(calendar.address, [href]);
  if (!object) return;
  const { zone } = await readPerson(services.database, idOf(calendar.user_id));
  const side = sideIn(object.text, zone, row.title) ?? sideOf(row);
  await noteCopy(services.database, calendar, {
    copy: { appointment_id: row.id, href },
    etag: object.etag,
    side,
  });
}

async function etagOf(dav: Dav, calendar: CalendarRow, href: string): Promise<string | null> {
  const [object] = await dav.read(calendar.address, [href]);
  return object?.etag ?? null;
}

/** No longer planned here: called off or gone it is taken out there; what took place stays. */
async function takeBack({ services, calendar, dav }: Step, copy: Copy): Promise<void> {
  const { database, clock } = services;
  const [row] = await database.rows<Ours & Row<'appointment', 'owner_id'>>(
    'SELECT id, owner_id, title, place, starts_at, ends_at, state, version FROM appointment WHERE id = :id',
    { id: copy.appointment_id },
  );
  const isOver = instantOf(copy.ends_at) <= clock.now();
  const isOff = row === undefined || row.state === 'called-off' || !row.owner_id.equals(calendar.user_id);
  if (!isOff && !isOver) return;
  // Changed there meanwhile: it is read first, and taken out the next time.
  if (isOff && !isOver && (await dav.remove(calendar.address, copy.href, copy.etag)).kind === 'other') return;
  await database.change('DELETE FROM outside_copy WHERE calendar_id = :calendar AND appointment_id = :id', {
    calendar: calendar.id,
    id: copy.appointment_id,
  });
}

function textOf(services: Services, row: Ours): string {
  return writeCalendar({
    events: [
      {
        uid: uidOf(services, idOf(row.id)),
        sequence: row.version - 1,
        stampedAt: services.clock.now(),
        ...sideOf(row),
        ...{ description: null, isCancelled: false, organizer: null, attendees: [] },
      },
    ],
  });
}
