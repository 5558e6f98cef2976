import type { Feature } from '../../platform/feature';
import { oncePerDay } from '../../platform/jobs/job-table';
import type { JobKind } from '../../platform/jobs/worker';
import { touchFactsKind } from '../../records/settings/index';
import { learnAnswerRates } from './answer-rates';
import { touchFactsJob } from './touch-facts-job';

const learnKind = 'learn-answer-rates';

/** Each night: when and how people answer, from the organisation's own history. */
const learn: JobKind = {
  words: $localize`learning when people answer`,
  effect: 'database',
  lane: 'bulk',
  run: (w) => learnAnswerRates(w, w.now),
};

export const touchFeature = {
  name: 'touch',
  jobs: () => ({ [touchFactsKind]: touchFactsJob, [learnKind]: learn }),
  daily: async (_services, now) => [oncePerDay(learnKind, now)],
} satisfies Feature;
