import type { changeMyStart, locateSite, planFieldDay } from '@kettle/contract';
import type * as z from 'zod';
import { Problem } from '../../platform/problem';
import { bytesOf } from '../../platform/ids';
import type { PersonWork } from '../../platform/work/work';
import { assertMayChange } from '../../records/rights/index';
import { followTasks } from '../../activity/calendar/index';
import { readTask, writeTask } from '../../activity/tasks/index';

/**
 * Gives visits their times and ways as a course came to them: they are promised for then, and stand in the calendar.
 * @throws Problem `not-yours`, `stale` when one was changed meanwhile, `already-done`
 */
export async function planDay(w: PersonWork, { on, visits }: z.output<typeof planFieldDay>): Promise<void> {
  w.say($localize`Visits of a day put at their times`);
  // In one order, so that two who write the same do not wait for each other in a ring.
  for (const visit of [...visits].sort((a, b) => (a.taskId < b.taskId ? -1 : 1))) {
    await w.rows('SELECT 1 FROM task WHERE id = :id FOR UPDATE', { id: bytesOf(visit.taskId) });
    const task = await readTask(w, visit.taskId);
    await assertMayChange(w, w.who, task.ownerId);
    if (task.state !== 'open') throw new Problem('already-done', {}, { current: task });
    if (task.version !== visit.version) throw new Problem('stale', {}, { current: task });
    await writeTask(w, visit.taskId, { dueOn: on, promisedMinute: visit.startMinute });
    await followTasks(w, [bytesOf<string>(visit.taskId)]);
    await w.change(
      `UPDATE appointment SET travel_minutes = :before, travel_after_minutes = :after, version = version + 1
        WHERE task_id = :task`,
      { task: bytesOf(visit.taskId), before: visit.travelMinutes, after: visit.travelAfterMinutes },
    );
  }
}

/** Says by hand where an address is, or takes that back. @throws Problem `not-found` for a site of another company */
export async function locate(
  w: PersonWork,
  { companyId, siteId, point }: z.output<typeof locateSite>,
): Promise<void> {
  w.say(
    point === null ? $localize`Place of an address taken back` : $localize`Place of an address set by hand`,
  );
  const place = {
    company: bytesOf(companyId),
    site: bytesOf(siteId),
    latitude: point?.latitude ?? null,
    longitude: point?.longitude ?? null,
  };
  const written = await w.change(
    siteId === null
      ? 'UPDATE company SET latitude = :latitude, longitude = :longitude, version = version + 1 WHERE id = :company'
      : 'UPDATE site SET latitude = :latitude, longitude = :longitude WHERE id = :site AND company_id = :company',
    place,
  );
  if (written > 0) return;
  const [known] = await w.rows('SELECT 1 FROM site WHERE id = :site AND company_id = :company', place);
  if (known === undefined) throw new Problem('not-found');
}

export async function setStart(w: PersonWork, { start }: z.output<typeof changeMyStart>): Promise<void> {
  w.say($localize`Where my days begin changed`);
  await w.change(
    `UPDATE app_user SET start_words = :words, start_latitude = :latitude, start_longitude = :longitude, version = version + 1
      WHERE id = :id`,
    {
      id: bytesOf(w.who.id),
      words: start?.words ?? null,
      latitude: start?.latitude ?? null,
      longitude: start?.longitude ?? null,
    },
  );
}
