import type { Feature } from '../../platform/feature';
import { recountJob, recountKind, recountOnSunday } from './recount-job';

export const countedFeature = {
  name: 'counted',
  jobs: () => ({ [recountKind]: recountJob }),
  daily: async (_services, now) => recountOnSunday(now),
} satisfies Feature;
