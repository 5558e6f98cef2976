import type { Feature } from '../../platform/feature';
import { calendarRoutes } from './calendar.routes';
import { feedRoutes } from './feed';
import { tellInvitedJob, tellInvitedKind } from './keep-invited';
import { remindJob, remindKind } from './remind-appointment';

export const calendarFeature = {
  name: 'calendar',
  routes: calendarRoutes,
  outside: { path: '/calendar', router: feedRoutes },
  jobs: () => ({ [remindKind]: remindJob, [tellInvitedKind]: tellInvitedJob }),
} satisfies Feature;
