import type { Feature } from '../../platform/feature';
import { oncePerDay } from '../../platform/jobs/job-table';
import { invoicesRoutes } from './invoices.routes';
import { askOverdue, overdueKind } from './overdue';

export const invoicesFeature = {
  name: 'invoices',
  routes: invoicesRoutes,
  jobs: () => ({ [overdueKind]: askOverdue }),
  daily: (_services, now) => Promise.resolve([oncePerDay(overdueKind, now)]),
} satisfies Feature;
