import type { Handlers } from '../../platform/http/bind-routes';
import type { JobKinds } from '../../platform/jobs/worker';
import type { Services } from '../../platform/services';
import { work } from '../../platform/work/work';
import { readFailedJobs, retryJob } from './failed-jobs';

/** @param kinds every kind of background work, which the composition root knows */
export function jobsRoutes(
  services: Services,
  kinds: () => JobKinds,
): Pick<Handlers, 'failedJobs' | 'retryJob'> {
  return {
    failedJobs: () => readFailedJobs(services.database, kinds()),
    retryJob: async ({ params, who }) => {
      await work(services, who, (w) => retryJob(w, params.id));
      return { ok: true };
    },
  };
}
