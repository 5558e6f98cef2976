import express from 'express';
import type { Feature } from '../../platform/feature';
import { calendarRoutes } from './calendar.routes';
import { timesRoutes } from './choose-time';
import { feedRoutes } from './feed';
import { tellInvitedJob, tellInvitedKind } from './keep-invited';
import { remindJob, remindKind } from './remind-appointment';

export const calendarFeature = {
  name: 'calendar',
  routes: calendarRoutes,
  outside: {
    path: '/calendar',
    router: (services) => express.Router().use('/times', timesRoutes(services)).use(feedRoutes(services)),
  },
  jobs: () => ({ [remindKind]: remindJob, [tellInvitedKind]: tellInvitedJob }),
} satisfies Feature;
