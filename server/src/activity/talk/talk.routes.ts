import type { Handlers } from '../../platform/http/bind-routes';
import type { Services } from '../../platform/services';
import { work } from '../../platform/work/work';
import { readTalk, removeTalk, writeTalk } from './talk';

const ok = { ok: true } as const;

export function talkRoutes(services: Services): Pick<Handlers, 'listTalk' | 'writeTalk' | 'removeTalk'> {
  return {
    listTalk: ({ who, query }) => readTalk(services.database, who, query),
    writeTalk: async ({ who, body }) => {
      await work(services, who, (w) => writeTalk(w, body));
      return ok;
    },
    removeTalk: async ({ who, params }) => {
      await work(services, who, (w) => removeTalk(w, params.id));
      return ok;
    },
  };
}
