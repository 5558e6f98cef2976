import { sqlInstant } from '../../platform/database/values';
import type { TaskId } from '@kettle/contract';
import { bytesOf, type IdBytes } from '../../platform/ids';
import type { Reaction, Writing } from '../../platform/work/work';
import { idBytesOfKey, type Written } from '../../platform/work/written';
import { metChannels } from './appointments';

/**
 * A task to meet somebody at a time has an appointment, whoever planned it and wherever. What both know is the task's: moved, handed over, done or
 * dropped there, it is so in the calendar, in the same change.
 */
export const keepAppointments: Reaction = async (w, written) => {
  if (w.isUndo) return;
  await followTasks(w, tasksToMeet(written));
};

function tasksToMeet(written: Written): IdBytes[] {
  const isMet = (channel: string | null | undefined) => metChannels.some((each) => each === channel);
  return written
    .of('task')
    .filter(({ op, refs, was }) => op !== 'delete' && (isMet(refs.channel) || isMet(was?.channel)))
    .map(({ key }) => idBytesOfKey(key));
}

/** The same for tasks that were just written, for a use case that writes more of the appointment. */
export async function followTasks(
  w: Pick<Writing, 'change' | 'now'>,
  ids: readonly IdBytes[],
): Promise<void> {
  if (ids.length === 0) return;
  const asked = { ids: [...ids], met: [...metChannels], now: sqlInstant(w.now) };
  // The appointment of a task has its id, so that two servers make one.
  await w.change(
    `INSERT INTO appointment (id, owner_id, task_id, channel, title, starts_at, ends_at, contact_id, deal_id, created_at)
     SELECT t.id, t.owner_id, t.id, t.channel, t.purpose, t.promised_at, t.promised_at + INTERVAL GREATEST(t.minutes, 1) MINUTE,
            t.contact_id, t.deal_id, :now
       FROM task t WHERE t.id IN (:ids) AND t.state = 'open' AND t.channel IN (:met) AND t.promised_at IS NOT NULL
        AND NOT EXISTS (SELECT 1 FROM appointment a WHERE a.task_id = t.id)`,
    asked,
  );
  await w.change(
    `UPDATE appointment a JOIN (
        SELECT t.id, t.owner_id, t.purpose, t.channel, t.promised_at, t.minutes, t.contact_id, t.deal_id,
               CASE WHEN t.state = 'dropped' THEN 'called-off'
                    WHEN t.state = 'done' THEN CASE COALESCE((SELECT e.counts FROM journal_entry e WHERE e.task_id = t.id AND e.removed_at IS NULL
                           ORDER BY e.at DESC, e.id DESC LIMIT 1), 'conversation')
                         WHEN 'conversation' THEN 'held' WHEN 'attempt' THEN 'missed' ELSE 'called-off' END
                    WHEN t.channel IN (:met) AND t.promised_at IS NOT NULL THEN 'planned'
                    ELSE 'called-off' END AS state
          FROM task t WHERE t.id IN (:ids)) t ON t.id = a.task_id
        SET a.owner_id = t.owner_id, a.title = t.purpose, a.channel = IF(t.channel IN (:met), t.channel, a.channel),
            a.ends_at = COALESCE(t.promised_at + INTERVAL GREATEST(t.minutes, 1) MINUTE, a.ends_at),
            a.starts_at = COALESCE(t.promised_at, a.starts_at),
            a.contact_id = t.contact_id, a.deal_id = t.deal_id, a.state = t.state, a.version = a.version + 1
      WHERE NOT (a.owner_id <=> t.owner_id AND a.title = t.purpose AND (a.channel <=> t.channel OR t.channel NOT IN (:met))
        AND COALESCE(t.promised_at, a.starts_at) = a.starts_at
        AND COALESCE(t.promised_at + INTERVAL GREATEST(t.minutes, 1) MINUTE, a.ends_at) = a.ends_at
        AND a.contact_id <=> t.contact_id AND a.deal_id <=> t.deal_id AND a.state = t.state)`,
    asked,
  );
}

/** Where they meet, of a task that was just planned; one that is no appointment has no place. */
export async function setPlace(
  w: Pick<Writing, 'change' | 'now'>,
  taskId: TaskId,
  place: string,
): Promise<void> {
  await followTasks(w, [bytesOf<string>(taskId)]);
  await w.change('UPDATE appointment SET place = :place, version = version + 1 WHERE task_id = :task', {
    place,
    task: bytesOf(taskId),
  });
}
