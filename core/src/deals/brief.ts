import type { PlainDate } from '@kettle/contract';
import { addWorkingDays, type WorkingCalendar } from '../time';

export interface BriefTaskState {
  readonly briefTaskId: string;
  /** What became of the task it made: still as made, changed by a person, done, or withdrawn when the deal left. */
  readonly state: 'untouched' | 'touched' | 'done' | 'withdrawn';
}

export interface BriefTask {
  readonly id: string;
  /** Working days after the entry. */
  readonly afterDays: number;
}

export interface EnteringStage<Task extends BriefTask> {
  /** Tasks that are made for the first time. */
  readonly make: readonly { readonly task: Task; readonly dueOn: PlainDate }[];
  /** Tasks that were withdrawn when the deal left, and are open again with a new day. */
  readonly renew: readonly { readonly briefTaskId: string; readonly dueOn: PlainDate }[];
}

/**
 * What a stage brief asks for when a deal enters: each task once for a deal, however often it goes back and forth. One
 * that was done stays done; one that was withdrawn is taken up again.
 */
export function enterStage<Task extends BriefTask>(
  tasks: readonly Task[],
  known: readonly BriefTaskState[],
  today: PlainDate,
  calendar: WorkingCalendar,
): EnteringStage<Task> {
  const states = new Map(known.map(({ briefTaskId, state }) => [briefTaskId, state]));
  const due = (task: Task) => addWorkingDays(today, task.afterDays, calendar);
  return {
    make: tasks.filter(({ id }) => !states.has(id)).map((task) => ({ task, dueOn: due(task) })),
    renew: tasks
      .filter(({ id }) => states.get(id) === 'withdrawn')
      .map((task) => ({ briefTaskId: task.id, dueOn: due(task) })),
  };
}

/** Tasks that a deal leaves behind with a stage: those nobody has touched. */
export function leaveStage(known: readonly BriefTaskState[]): string[] {
  return known.filter(({ state }) => state === 'untouched').map(({ briefTaskId }) => briefTaskId);
}
