import type { Feature } from '../../platform/feature';
import { oncePerDay } from '../../platform/jobs/job-table';
import { markDeals, markKind, sweptMarks } from './marks';
import { outlookTasks } from './outlook';

export const forecastFeature = {
  name: 'forecast',
  jobs: () => ({ [markKind]: markDeals }),
  daily: (_services, now) => Promise.resolve([oncePerDay(markKind, now)]),
  quick: outlookTasks,
  swept: sweptMarks,
} satisfies Feature;
