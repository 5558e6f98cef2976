import type { PlainDate, UserId } from '@kettle/contract';
import { addDays, addWorkingDays, daysBetween, sayDate } from '@kettle/core/time';
import type { Row } from '../../platform/database/schema.generated';
import { bytesOf, idOf, type IdBytes } from '../../platform/ids';
import type { Work } from '../../platform/work/work';
import { notify } from '../../records/notifications/index';
import { readPerson } from '../../records/users/index';

/** So many days before a notice closes it is told once more. */
const closingDays = 3;
const namesShown = 3;

/**
 * Tells somebody what has come up since the morning of their last working day: who has gone quiet, which renewals come up or close, and which
 * parked deals wake. Nothing is told twice: each has its day.
 */
export async function tellMorning(w: Work, userId: UserId, on: PlainDate): Promise<void> {
  const { organisation } = await w.settings();
  const person = await readPerson(w, userId);
  const before = addWorkingDays(on, -1, w.services.calendars.of(person, organisation));
  const days = { owner: bytesOf(userId), on, before };
  await tellQuiet(w, userId, days);
  await tellRenewals(w, userId, days);
  await tellWaking(w, userId, days);
}

interface Days {
  readonly owner: IdBytes;
  readonly on: PlainDate;
  /** The working day before, whose morning told what was up then. */
  readonly before: PlainDate;
}

async function tellQuiet(w: Work, userId: UserId, days: Days): Promise<void> {
  const rows = await w.rows<Row<'contact', 'id' | 'display_name'>>(
    `SELECT id, display_name FROM contact
      WHERE owner_id = :owner AND next_touch_due >= :before AND next_touch_due < :on AND next_step_on IS NULL AND archived_at IS NULL
      ORDER BY next_touch_due, id LIMIT 200`,
    { ...days },
  );
  const [first] = rows;
  if (first === undefined) return;
  const names = rows
    .slice(0, namesShown)
    .map(({ display_name: name }) => name)
    .join(', ');
  const words =
    rows.length === 1
      ? $localize`${names}:names: has gone quiet`
      : $localize`${rows.length}:length: people have gone quiet: ${names}:names:${rows.length > namesShown ? ' …' : ''}:more:`;
  const path = rows.length === 1 ? `/people/${idOf<string>(first.id)}` : '/people?quiet=yes&owner=mine';
  await notify(w, 'quiet', [userId], words, path);
}

/** A notice that closes; that a renewal comes up is told when its talk begins. */
async function tellRenewals(w: Work, userId: UserId, days: Days): Promise<void> {
  const rows = await w.rows<Row<'agreement', 'id' | 'name' | 'notice_deadline_on'>>(
    `SELECT id, name, notice_deadline_on FROM agreement
      WHERE owner_id = :owner AND decision = 'open' AND archived_at IS NULL AND notice_deadline_on >= :on AND notice_deadline_on <= :soon
      ORDER BY notice_deadline_on, id LIMIT 200`,
    { ...days, soon: addDays(days.on, closingDays) },
  );
  for (const { id, name, notice_deadline_on: deadline } of rows) {
    const left = daysBetween(days.on, deadline);
    const leftBefore = daysBetween(days.before, deadline);
    if (leftBefore <= closingDays && left > 0) continue;
    const when = sayDate(deadline, days.on);
    await notify(
      w,
      'renewal',
      [userId],
      left === 0
        ? $localize`The last day for notice is today: ${name}:name:`
        : $localize`Notice closes ${when}:when:: ${name}:name:`,
      `/agreements/${idOf<string>(id)}`,
      true,
    );
  }
}

async function tellWaking(w: Work, userId: UserId, days: Days): Promise<void> {
  const rows = await w.rows<Row<'deal', 'id' | 'name' | 'close_reason'>>(
    `SELECT id, name, close_reason FROM deal
      WHERE owner_id = :owner AND status = 'parked' AND wake_on > :before AND wake_on <= :on ORDER BY wake_on, id LIMIT 200`,
    { ...days },
  );
  for (const { id, name, close_reason: reason } of rows) {
    const why = reason === null ? '' : ` (${reason})`;
    await notify(
      w,
      'waking',
      [userId],
      $localize`A parked deal wakes: ${name}:name:${why}:why:`,
      `/deals/${idOf<string>(id)}`,
    );
  }
}
