import type { settleOutsideQuestion } from '@kettle/contract';
import type * as z from 'zod';
import { callOffAppointment } from '../../activity/calendar/index';
import type { Row } from '../../platform/database/schema.generated';
import { instantOf } from '../../platform/database/values';
import { bytesOf } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import { enqueue } from '../../platform/jobs/job-table';
import type { PersonWork } from '../../platform/work/work';
import { ownCalendar } from './calendars';
import { changeHere, copyColumns, noteCopy, type Copy } from './keep-in-step';
import { jobNow } from './read-outside';

type Asked = Copy & Row<'outside_copy', 'their_title' | 'their_place' | 'their_starts_at' | 'their_ends_at'>;

/**
 * Somebody says which side counts. Ours: it is written there again. Theirs: it is changed here, or called off where it was deleted there.
 * @throws Problem `not-found`, `already-done` when nothing is asked any more
 */
export async function settleQuestion(
  w: PersonWork,
  id: string,
  { appointmentId, keep }: z.output<typeof settleOutsideQuestion>,
): Promise<void> {
  const calendar = await ownCalendar(w, w.who, id);
  const [copy] = await w.rows<Asked>(
    `SELECT ${copyColumns}, their_title, their_place, their_starts_at, their_ends_at FROM outside_copy
      WHERE calendar_id = :calendar AND appointment_id = :id FOR UPDATE`,
    { calendar: calendar.id, id: bytesOf(appointmentId) },
  );
  if (!copy) throw new Problem('not-found');
  if (copy.asked === 'no') throw new Problem('already-done');
  const [ours] = await w.rows<Row<'appointment', 'id' | 'version' | 'state'>>(
    'SELECT id, version, state FROM appointment WHERE id = :id FOR UPDATE',
    { id: bytesOf(appointmentId) },
  );
  const isGone = copy.asked === 'gone' || copy.their_starts_at === null || copy.their_ends_at === null;
  if (isGone)
    await w.change('DELETE FROM outside_copy WHERE calendar_id = :calendar AND appointment_id = :id', {
      calendar: calendar.id,
      id: copy.appointment_id,
    });
  else {
    const theirs = {
      ...{ title: copy.their_title ?? copy.title, place: copy.their_place },
      ...{ startsAt: instantOf(copy.their_starts_at!), endsAt: instantOf(copy.their_ends_at!) },
    };
    await noteCopy(w, calendar, { copy, etag: copy.etag, side: theirs });
    if (keep === 'theirs' && ours?.state === 'planned') await changeHere(w, calendar, ours, theirs);
  }
  if (isGone && keep === 'theirs' && ours?.state === 'planned')
    await callOffAppointment(w, appointmentId, {
      version: ours.version,
      reason: $localize`Deleted in ${calendar.name}:calendar:`,
      instead: { kind: 'none' },
    });
  w.note('appointment', appointmentId);
  await enqueue(w, jobNow(id, w.now, w.id));
}
