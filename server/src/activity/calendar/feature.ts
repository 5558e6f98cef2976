import type { Feature } from '../../platform/feature';
import { calendarRoutes } from './calendar.routes';
import { tellInvitedJob, tellInvitedKind } from './keep-invited';
import { remindJob, remindKind } from './remind-appointment';

export const calendarFeature = {
  name: 'calendar',
  routes: calendarRoutes,
  jobs: () => ({ [remindKind]: remindJob, [tellInvitedKind]: tellInvitedJob }),
} satisfies Feature;
