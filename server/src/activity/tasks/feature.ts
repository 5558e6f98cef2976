import type { Feature } from '../../platform/feature';
import { tasksRoutes } from './tasks.routes';
import { remindJob, remindKind } from './remind';

export const tasksFeature = {
  name: 'tasks',
  routes: tasksRoutes,
  jobs: () => ({ [remindKind]: remindJob }),
} satisfies Feature;
