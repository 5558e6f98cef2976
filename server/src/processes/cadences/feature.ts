import type { Feature } from '../../platform/feature';
import * as z from 'zod';
import { enqueue, oncePerDay } from '../../platform/jobs/job-table';
import type { JobKind } from '../../platform/jobs/worker';
import type { Services } from '../../platform/services';
import { applyEvent } from './apply-event';
import { sendStepKind } from './ask-to-send-step';
import { cadencesRoutes } from './cadences.routes';
import { readRunsToWake } from './run-rows';
import { sendStepJob } from './send-step';

export const wakeKind = 'wake-runs';
/** How many continue in one transaction. */
const wokenAtOnce = 200;

const partOfWaking = z.object({ part: z.int().default(0) });

/** Each morning: runs whose pause has ended continue, part by part until none is left. */
export const wakeRuns = (atOnce = wokenAtOnce): JobKind => ({
  words: $localize`continuing paused cadences`,
  effect: 'database',
  run: async (w, payload) => {
    const today = w.now.slice(0, 10);
    const woken = await readRunsToWake(w, today, atOnce);
    for (const stored of woken)
      await applyEvent(w, stored, { id: `wake:${today}`, at: w.now, kind: 'resumed' });
    if (woken.length < atOnce) return;
    const part = partOfWaking.parse(payload).part + 1;
    await enqueue(w, {
      ...oncePerDay(wakeKind, w.now),
      dedupeKey: `${wakeKind}:${today}:${part}`,
      payload: { part },
    });
  },
});

export const cadencesFeature = {
  name: 'cadences',
  routes: cadencesRoutes,
  jobs: (services: Services) => ({ [sendStepKind]: sendStepJob(services), [wakeKind]: wakeRuns() }),
  daily: async (_services, now) => [oncePerDay(wakeKind, now)],
} satisfies Feature;
