import type { Feature } from '../../platform/feature';
import type { Services } from '../../platform/services';
import { journalSettingsRoutes } from './journal-settings.routes';
import { oncePerDay } from '../../platform/jobs/job-table';
import type { JobKind } from '../../platform/jobs/worker';
import { closeReasonsRoutes } from './close-reasons.routes';
import { writeAllHomeAmounts } from './home-amounts';
import { organisationRoutes } from './organisation.routes';

const revalueKind = 'revalue';

/** Each night: foreign amounts at the rate of the new day. */
const revalue: JobKind = {
  words: $localize`valuing foreign amounts at the day’s rate`,
  effect: 'database',
  lane: 'bulk',
  run: async (w) => writeAllHomeAmounts(w, w.now.slice(0, 10)),
};

export const settingsFeature = {
  name: 'settings',
  routes: (services: Services) => ({
    ...journalSettingsRoutes(services),
    ...closeReasonsRoutes(services),
    ...organisationRoutes(services),
  }),
  jobs: () => ({ [revalueKind]: revalue }),
  daily: async (_services, now) => [oncePerDay(revalueKind, now)],
} satisfies Feature;
