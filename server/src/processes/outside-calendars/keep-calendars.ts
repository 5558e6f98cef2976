import type { Row } from '../../platform/database/schema.generated';
import { bytesOf, idOf } from '../../platform/ids';
import { enqueue } from '../../platform/jobs/job-table';
import type { Reaction } from '../../platform/work/work';
import { jobNow } from './read-outside';

/** So long several changes of one appointment are written elsewhere as one. */
const waitSeconds = 5;

/** An appointment that was planned, changed or called off here, whoever did it and wherever, is so in the calendars its owner keeps in step. */
export const keepCalendars: Reaction = async (w, written) => {
  const ids = [...written.ids('appointment', 'id')];
  if (ids.length === 0) return;
  const calendars = await w.rows<Row<'outside_calendar', 'id'>>(
    `SELECT o.id FROM outside_calendar o JOIN appointment a ON a.owner_id = o.user_id
      WHERE a.id IN (:ids) AND o.kind = 'both-ways' AND o.removed_at IS NULL
     UNION SELECT o.id FROM outside_copy k JOIN outside_calendar o ON o.id = k.calendar_id
      WHERE k.appointment_id IN (:ids) AND o.removed_at IS NULL ORDER BY id`,
    { ids: ids.map((id) => bytesOf(id)) },
  );
  const dueAt = new Date(Date.parse(w.now) + waitSeconds * 1000).toISOString();
  for (const { id } of calendars) await enqueue(w, jobNow(idOf<string>(id), dueAt, w.id));
};
