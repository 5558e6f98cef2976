import type { Feature } from '../../platform/feature';
import { oncePerDay } from '../../platform/jobs/job-table';
import type { JobKind } from '../../platform/jobs/worker';
import { dealsRoutes } from './deals.routes';
import { learnAnswers } from './letting-go';
import { learnUsualAmounts } from './usual-amounts';

const learnKind = 'learn-answers';

/** Each night: how often tries are answered, and what deals are usually worth, from the organisation's own history. */
const learn: JobKind = {
  words: $localize`learning how often tries are answered`,
  effect: 'database',
  lane: 'bulk',
  run: async (w) => {
    await learnAnswers(w, w.now);
    await learnUsualAmounts(w, w.now);
  },
};

export const dealsFeature = {
  name: 'deals',
  routes: dealsRoutes,
  jobs: () => ({ [learnKind]: learn }),
  daily: async (_services, now) => [oncePerDay(learnKind, now)],
} satisfies Feature;
