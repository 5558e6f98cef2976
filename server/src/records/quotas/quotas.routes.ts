import type { Handlers } from '../../platform/http/bind-routes';
import type { Services } from '../../platform/services';
import { work } from '../../platform/work/work';
import { readQuotas } from './read-quotas';
import { setQuota } from './set-quota';

export function quotasRoutes(services: Services): Pick<Handlers, 'readQuotas' | 'setQuota'> {
  return {
    readQuotas: ({ who, query }) => readQuotas(services.database, who, query),
    setQuota: async ({ who, body }) => {
      await work(services, who, (w) => setQuota(w, body));
      return { ok: true };
    },
  };
}
