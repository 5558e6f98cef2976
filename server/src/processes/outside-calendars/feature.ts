import type { Feature } from '../../platform/feature';
import { sweptAtOnce } from '../../platform/jobs/sweep';
import { outsideCalendarRoutes } from './outside-calendars.routes';
import { dueCalendars, readOutsideJob, readOutsideKind } from './read-outside';
import { outsideCalendarTasks } from './write-events';

export const outsideCalendarsFeature = {
  name: 'outside-calendars',
  routes: outsideCalendarRoutes,
  jobs: (services) => ({ [readOutsideKind]: readOutsideJob(services) }),
  heavy: outsideCalendarTasks,
  daily: dueCalendars,
  swept: [
    // Removed ones can be put back for thirty days.
    `DELETE FROM outside_calendar WHERE removed_at < :now - INTERVAL 30 DAY ORDER BY removed_at LIMIT ${sweptAtOnce}`,
  ],
} satisfies Feature;
