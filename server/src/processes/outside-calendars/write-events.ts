import type { Expanded, Occurrence, Stretch } from '@kettle/core/invitations';
import { addDays, localMoment } from '@kettle/core/time';
import type { HeavyTask } from '../../platform/heavy';
import type { Row } from '../../platform/database/schema.generated';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf, newId } from '../../platform/ids';
import { OutsideFailure } from '../../platform/outside/fetch-outside';
import type { Services } from '../../platform/services';
import type { Work } from '../../platform/work/work';
import type { CalendarRow } from './calendars';

const daysBack = 30;
const daysAhead = 370;
const rowsAtOnce = 500;

/** The months that are looked at. */
export const stretchAt = (today: string, zone: string): Stretch => ({
  from: localMoment(addDays(today, -daysBack), 0, zone),
  to: localMoment(addDays(today, daysAhead), 0, zone),
  zone,
});

const task = 'expand-calendar';

/** A long calendar takes seconds: another thread reads it. @throws OutsideFailure for what is no calendar */
export async function expandText(services: Services, text: string, stretch: Stretch): Promise<Expanded> {
  const expanded = (await services.heavy.run(task, { text, stretch })) as Expanded | null;
  if (expanded === null)
    throw new OutsideFailure($localize`What lies at this address is no calendar (iCalendar).`);
  return expanded;
}

const expandInThread: HeavyTask = async (_, input) => {
  const { expandCalendar } = await import('@kettle/core/invitations');
  const { text, stretch } = input as { readonly text: string; readonly stretch: Stretch };
  return expandCalendar(text, stretch);
};

export const outsideCalendarTasks = { [task]: expandInThread };

export interface EventsOf {
  /** The object of the calendar they are in; empty for the whole of an address. */
  readonly href: string;
  readonly occurrences: readonly Occurrence[];
}

type Known = Row<
  'outside_event',
  'href' | 'title' | 'place' | 'starts_at' | 'ends_at' | 'is_all_day' | 'is_busy'
>;

/**
 * Puts what takes place by some objects of a calendar in place of what was known of them.
 * @param hrefs those whose events go; null: all
 * @returns whether anything is otherwise now
 */
export async function writeEvents(
  w: Work,
  calendar: CalendarRow,
  { hrefs, objects }: { readonly hrefs: readonly string[] | null; readonly objects: readonly EventsOf[] },
): Promise<boolean> {
  if (hrefs?.length === 0) return false;
  const scope = `calendar_id = :calendar${hrefs === null ? '' : ' AND href IN (:hrefs)'}`;
  const asked = { calendar: calendar.id, hrefs: [...(hrefs ?? [])] };
  const known = await w.rows<Known>(
    `SELECT href, title, place, starts_at, ends_at, is_all_day, is_busy FROM outside_event WHERE ${scope} ORDER BY id FOR UPDATE`,
    asked,
  );
  const rows = objects.flatMap(({ href, occurrences }) => occurrences.map((each) => rowOf(href, each)));
  const keyOf = (row: Known) =>
    JSON.stringify([row.href, row.title, row.place, row.starts_at, row.ends_at, row.is_all_day, row.is_busy]);
  const before = known.map(keyOf).sort();
  const now = rows.map(keyOf).sort();
  if (before.length === now.length && before.every((key, index) => key === now[index])) return false;
  await w.change(`DELETE FROM outside_event WHERE ${scope}`, asked);
  for (let at = 0; at < rows.length; at += rowsAtOnce)
    await w.change(
      'INSERT INTO outside_event (id, calendar_id, user_id, href, title, place, starts_at, ends_at, is_all_day, is_busy) VALUES :rows',
      {
        rows: rows
          .slice(at, at + rowsAtOnce)
          .map((row) => [
            ...[bytesOf(newId<string>()), calendar.id, calendar.user_id, row.href, row.title, row.place],
            ...[row.starts_at, row.ends_at, row.is_all_day, row.is_busy],
          ]),
      },
    );
  return true;
}

const rowOf = (href: string, each: Occurrence): Known => ({
  href,
  title: each.title.slice(0, 300),
  place: each.place === null ? null : each.place.slice(0, 300),
  starts_at: sqlInstant(each.startsAt),
  ends_at: sqlInstant(each.endsAt),
  is_all_day: each.isAllDay ? 1 : 0,
  is_busy: each.isBusy ? 1 : 0,
});
