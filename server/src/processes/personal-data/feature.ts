import type { Feature } from '../../platform/feature';
import { oncePerDay } from '../../platform/jobs/job-table';
import { personalDataRoutes } from './personal-data.routes';
import { purgeJob, purgeKind } from './purge';
import { retentionJob, retentionKind } from './retention';

export const personalDataFeature = {
  name: 'personal-data',
  routes: personalDataRoutes,
  jobs: () => ({ [purgeKind]: purgeJob, [retentionKind]: retentionJob }),
  daily: async (_services, now) => [oncePerDay(retentionKind, now)],
} satisfies Feature;
