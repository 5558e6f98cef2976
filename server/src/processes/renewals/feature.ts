import type { Feature } from '../../platform/feature';
import { oncePerDay } from '../../platform/jobs/job-table';
import { beginJob, beginKind, checkInJob, checkInKind, dayKind, findDay, rollJob, rollKind } from './day';
import { renewalMail, renewalMailKind } from './renewal-mail';
import { reportTasks } from './reports';
import { renewalsRoutes } from './renewals.routes';

export const renewalsFeature = {
  name: 'renewals',
  routes: renewalsRoutes,
  jobs: (services) => ({
    [dayKind]: findDay,
    [rollKind]: rollJob,
    [beginKind]: beginJob,
    [checkInKind]: checkInJob,
    [renewalMailKind]: renewalMail(services),
  }),
  heavy: reportTasks,
  daily: async (_services, now) => [oncePerDay(dayKind, now)],
} satisfies Feature;
