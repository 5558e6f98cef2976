import type { Feature } from '../../platform/feature';
import { oncePerDay } from '../../platform/jobs/job-table';
import type { JobKind } from '../../platform/jobs/worker';
import type { Services } from '../../platform/services';
import { askConsentJob, askConsentKind } from './confirm-consent';
import { formRoutes } from './form.routes';
import { learnLeadWorth } from './lead-worth';
import { leadsRoutes } from './leads.routes';
import { webFormsRoutes } from './web-forms';

const learnKind = 'learn-lead-worth';

/** Each night: what a lead is expected to bring, from the organisation's own history. */
const learn: JobKind = {
  words: $localize`learning what a lead brings`,
  effect: 'database',
  lane: 'bulk',
  run: (w) => learnLeadWorth(w),
};

export const leadsFeature = {
  name: 'leads',
  routes: (services: Services) => ({ ...leadsRoutes(services), ...webFormsRoutes(services) }),
  outside: { path: '/forms', router: formRoutes },
  jobs: (services: Services) => ({ [learnKind]: learn, [askConsentKind]: askConsentJob(services) }),
  daily: async (_services, now) => [oncePerDay(learnKind, now)],
} satisfies Feature;
