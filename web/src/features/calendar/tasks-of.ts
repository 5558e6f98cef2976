import type { Calendar, PlainDate } from '@kettle/contract';
import { addDays } from '@kettle/core/time';

/** The list of tasks of a day, as its address asks for it. */
export const tasksOf = (on: PlainDate) => ({
  filter: JSON.stringify({
    join: 'all',
    rules: [
      { field: 'due', ask: 'after', value: addDays(on, -1) },
      { field: 'due', ask: 'before', value: addDays(on, 1) },
    ],
  }),
});

/** What a day has without a time: `9 tasks, 3 steps`; an empty text when there is nothing. */
export function countsOf({ tasks, steps }: Calendar['days'][number]): string {
  const words = [
    tasks === 0 ? '' : tasks === 1 ? $localize`1 task` : $localize`${tasks}:count: tasks`,
    steps === 0 ? '' : steps === 1 ? $localize`1 step` : $localize`${steps}:count: steps`,
  ];
  return words.filter(Boolean).join(', ');
}
