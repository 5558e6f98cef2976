import type { Handlers } from '../../platform/http/bind-routes';
import type { Services } from '../../platform/services';
import { work } from '../../platform/work/work';
import { draftWording } from './draft-wording';
import { declineWording, releaseWording, withdrawWording } from './decide-wording';
import { listWordings } from './wording-rows';

type Names = 'listWordings' | 'draftWording' | 'releaseWording' | 'declineWording' | 'withdrawWording';

export function wordingsRoutes(services: Services): Pick<Handlers, Names> {
  const done = { ok: true } as const;
  return {
    listWordings: async ({ query }) => ({ wordings: await listWordings(services.database, query) }),
    draftWording: ({ body, who }) => draftWording(services, who, body),
    releaseWording: async ({ params, body, who }) => {
      await work(services, who, (w) => releaseWording(w, params.id, body));
      return done;
    },
    declineWording: async ({ params, body, who }) => {
      await work(services, who, (w) => declineWording(w, params.id, body));
      return done;
    },
    withdrawWording: async ({ params, body, who }) => {
      await work(services, who, (w) => withdrawWording(w, params.id, body));
      return done;
    },
  };
}
