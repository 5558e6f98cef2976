import { isRepeatRule, localDate, nextRepeat } from '@kettle/core/time';
import type { PersonWork } from '../../platform/work/work';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf, newId } from '../../platform/ids';
import type { TaskId } from '@kettle/contract';
import type { Row } from '../../platform/database/schema.generated';

/**
 * Makes the next one of a repeating task that was finished: on the first day its rule falls on after both the day it was
 * due and today, so that one finished late does not come back overdue.
 */
export async function repeatTask(w: PersonWork, taskId: string): Promise<TaskId | null> {
  const today = localDate(w.now, w.who.zone);
  const [task] = await w.rows<Row<'task', 'repeats' | 'repeats_from' | 'due_on' | 'id'>>(
    'SELECT id, repeats, repeats_from, due_on FROM task WHERE id = :id',
    { id: bytesOf(taskId) },
  );
  // One from before that is no rule any more does not keep its task from being finished.
  if (!task?.repeats || !isRepeatRule(task.repeats)) return null;
  const after = task.due_on > today ? task.due_on : today;
  const next = nextRepeat(task.repeats, task.repeats_from ?? task.due_on, after);
  if (next === null) return null;
  const id = newId<TaskId>();
  await w.change(
    `INSERT INTO task (id, channel, purpose, due_on, minutes, owner_id, made_by, contact_id, company_id, deal_id,
        repeats, repeats_from, remind_minutes, created_at)
     SELECT :id, channel, purpose, :next, minutes, owner_id, made_by, contact_id, company_id, deal_id,
        repeats, COALESCE(repeats_from, due_on), remind_minutes, :now
       FROM task WHERE id = :task`,
    { id: bytesOf(id), next, now: sqlInstant(w.now), task: task.id },
  );
  return id;
}
