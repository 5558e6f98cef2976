import type { CadenceDefinition, PlainDate } from '@kettle/contract';
import { cadenceDefinition } from '@kettle/contract';
import { aliveOf, previewLoad, type LoadRun } from '@kettle/core/cadences';
import { freeGaps, hoursOf, sumMinutes } from '@kettle/core/calendar';
import { addDays, addWorkingDays, localDate, type WorkingCalendar } from '@kettle/core/time';
import type { Queryable } from '../../platform/database/database';
import { jsonOf, wholeNumber } from '../../platform/database/values';
import { bytesOf, idOf } from '../../platform/ids';
import type { Services } from '../../platform/services';
import type { AllSettings } from '../../records/settings/index';
import { readBlocks, withoutTasks } from '../../activity/calendar/index';
import type { SignedIn } from '../../records/users/index';
import type { Row, Tables } from '../../platform/database/schema.generated';

export interface RepLoad {
  /** The next working days of the rep, today first. */
  readonly days: readonly PlainDate[];
  /** Minutes by hand that are expected on each. */
  readonly minutes: readonly number[];
  /** Minutes each day leaves free beside meetings, travel and the reserve. */
  readonly capacity: readonly number[];
  readonly calendar: WorkingCalendar;
}

/** Four weeks of working days. */
export const loadDays = 20;

/** What the rep's running cadences and other tasks will take, day by day. */
export async function readRepLoad(
  db: Queryable,
  { calendars, clock }: Services,
  settings: AllSettings,
  who: SignedIn,
): Promise<RepLoad> {
  const calendar = calendars.of(who, settings.organisation);
  const today = localDate(clock.now(), who.zone);
  const days = [addWorkingDays(today, 0, calendar)];
  while (days.length < loadDays) days.push(addWorkingDays(addDays(days.at(-1)!, 1), 0, calendar));
  const runs = await readLoadRuns(db, who.id, calendar);
  const minutes = previewLoad(runs, days);
  const tasks = await db.rows<{ on_day: PlainDate; minutes: string }>(
    `SELECT GREATEST(due_on, :first) AS on_day, SUM(minutes) AS minutes FROM task
      WHERE owner_id = :owner AND state = 'open' AND run_id IS NULL AND due_on <= :last GROUP BY on_day ORDER BY on_day`,
    { owner: bytesOf(who.id), first: days[0]!, last: days.at(-1)! },
  );
  for (const task of tasks) {
    const place = days.findIndex((day) => day >= task.on_day);
    if (place >= 0) minutes[place]! += wholeNumber(task.minutes);
  }
  const blocks = withoutTasks(
    await readBlocks(db, who.id, { from: days[0]!, to: addDays(days.at(-1)!, 1), zone: calendar.zone }),
  );
  const capacity = days.map((on) => {
    const hours = hoursOf(on, calendar);
    const free = hours === null ? 0 : sumMinutes(freeGaps(hours, blocks, hours.start));
    return Math.max(0, free - settings.round.reserveMinutes);
  });
  return { days, minutes, capacity, calendar };
}

async function readLoadRuns(db: Queryable, ownerId: string, calendar: WorkingCalendar): Promise<LoadRun[]> {
  const rows = await db.rows<
    Row<'run', 'step'> & { version_id: Tables['run']['cadence_version_id']; next_on: PlainDate }
  >(
    `SELECT cadence_version_id AS version_id, step, next_on FROM run
      WHERE owner_id = :owner AND status = 'running' AND next_on IS NOT NULL ORDER BY id LIMIT 20000`,
    { owner: bytesOf(ownerId) },
  );
  const known = new Map<string, { definition: CadenceDefinition; alive: number[] }>();
  for (const id of new Set(rows.map((row) => idOf<string>(row.version_id))))
    known.set(id, await readSurvival(db, id));
  return rows.map((row) => ({
    ...known.get(idOf(row.version_id))!,
    step: row.step,
    nextOn: row.next_on,
    calendar,
  }));
}

/** A version with the share of its runs that come as far as each step, as measured so far. */
export async function readSurvival(
  db: Queryable,
  versionId: string,
): Promise<{ definition: CadenceDefinition; alive: number[] }> {
  const [version] = await db.rows<{ definition: unknown }>(
    'SELECT definition FROM cadence_version WHERE id = :id',
    { id: bytesOf(versionId) },
  );
  const definition = cadenceDefinition.parse(jsonOf(version!.definition));
  // Only runs that have ended tell how far they came.
  const reached = await db.rows<Row<'run_step', 'step'> & { n: string }>(
    `SELECT s.step, COUNT(*) AS n FROM run r JOIN run_step s ON s.run_id = r.id
      WHERE r.cadence_version_id = :id AND r.status IN ('finished', 'stopped') GROUP BY s.step ORDER BY s.step`,
    { id: bytesOf(versionId) },
  );
  const counts = definition.steps.map((_, step) =>
    wholeNumber(reached.find((row) => row.step === step)?.n ?? 0),
  );
  return { definition, alive: aliveOf(counts, definition.steps.length) };
}

/** What one start is expected to cost, by working days after it. */
export function patternOf({ steps }: CadenceDefinition, alive: readonly number[]): number[] {
  const pattern: number[] = [];
  let day = 0;
  steps.forEach((step, index) => {
    day += index === 0 ? step.offsetDays : Math.max(1, step.offsetDays);
    if (step.mode === 'by-hand') pattern[day] = (pattern[day] ?? 0) + step.minutes * (alive[index] ?? 0);
  });
  return Array.from(pattern, (minutes: number | undefined) => minutes ?? 0);
}
