import type { Feature } from '../../platform/feature';
import { oncePerDay } from '../../platform/jobs/job-table';
import type { JobKind } from '../../platform/jobs/worker';
import { dealsRoutes } from './deals.routes';
import { learnAnswers } from './letting-go';

const learnKind = 'learn-answers';

/** Each night: how often tries are answered, from the organisation's own history. */
const learn: JobKind = {
  words: $localize`learning how often tries are answered`,
  effect: 'database',
  lane: 'bulk',
  run: (w) => learnAnswers(w, w.now),
};

export const dealsFeature = {
  name: 'deals',
  routes: dealsRoutes,
  jobs: () => ({ [learnKind]: learn }),
  daily: async (_services, now) => [oncePerDay(learnKind, now)],
} satisfies Feature;
