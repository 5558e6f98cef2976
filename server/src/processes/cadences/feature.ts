import type { Feature } from '../../platform/feature';
import { oncePerDay } from '../../platform/jobs/job-table';
import type { JobKind } from '../../platform/jobs/worker';
import type { Services } from '../../platform/services';
import { applyEvent } from './apply-event';
import { sendStepKind } from './ask-to-send-step';
import { cadencesRoutes } from './cadences.routes';
import { readRunsToWake } from './run-rows';
import { sendStepJob } from './send-step';

const wakeKind = 'wake-runs';

/** Each morning: runs whose pause has ended continue. */
const wakeRuns: JobKind = {
  words: $localize`continuing paused cadences`,
  effect: 'database',
  run: async (w) => {
    const today = w.now.slice(0, 10);
    for (const stored of await readRunsToWake(w, today))
      await applyEvent(w, stored, { id: `wake:${today}`, at: w.now, kind: 'resumed' });
  },
};

export const cadencesFeature = {
  name: 'cadences',
  routes: cadencesRoutes,
  jobs: (services: Services) => ({ [sendStepKind]: sendStepJob(services), [wakeKind]: wakeRuns }),
  daily: async (_services, now) => [oncePerDay(wakeKind, now)],
} satisfies Feature;
