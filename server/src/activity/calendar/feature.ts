import type { Feature } from '../../platform/feature';
import { calendarRoutes } from './calendar.routes';
import { remindJob, remindKind } from './remind-appointment';

export const calendarFeature = {
  name: 'calendar',
  routes: calendarRoutes,
  jobs: () => ({ [remindKind]: remindJob }),
} satisfies Feature;
