import type { Handlers } from '../../platform/http/bind-routes';
import type { Services } from '../../platform/services';
import { todayOf } from '../../records/users/index';
import { changeDeal, moveDeal } from './change-deal';
import { closeDeal, reopenDeal, undoClose } from './close-deal';
import { readClosingSteps } from './closing-steps';
import { createDeal } from './create-deal';
import { readDeal } from './deal-rows';
import { readLettingGo } from './letting-go';
import { countDeals, listDeals, pageDeals } from './list-deals';
import { tickPrompt } from './tick-prompt';
import { work } from '../../platform/work/work';

type Names =
  | 'listDeals'
  | 'pageDeals'
  | 'countDeals'
  | 'createDeal'
  | 'getDeal'
  | 'changeDeal'
  | 'moveDeal'
  | 'closeDeal'
  | 'reopenDeal'
  | 'undoClose'
  | 'tickPrompt'
  | 'lettingGo'
  | 'closingSteps';

export function dealsRoutes(services: Services): Pick<Handlers, Names> {
  const { database } = services;
  return {
    getDeal: ({ params, who }) => readDeal(database, params.id, todayOf(services, who)),
    listDeals: ({ query, who }) => listDeals(services, who, query),
    pageDeals: ({ query, who }) => pageDeals(services, who, query),
    countDeals: ({ query, who }) => countDeals(services, who, query),
    createDeal: async ({ body, who }) => {
      const id = await work(services, who, (w) => createDeal(w, body));
      return readDeal(database, id, todayOf(services, who));
    },
    changeDeal: ({ params, body, who }) => changeDeal(services, who, params.id, body),
    moveDeal: ({ params, body, who }) => moveDeal(services, who, params.id, body),
    closeDeal: ({ params, body, who }) => closeDeal(services, who, params.id, body),
    reopenDeal: ({ params, body, who }) => reopenDeal(services, who, params.id, body),
    undoClose: ({ params, who }) => undoClose(services, who, params.id),
    tickPrompt: ({ params, body, who }) => tickPrompt(services, who, params.id, body),
    closingSteps: async ({ params, who }) =>
      readClosingSteps(database, await readDeal(database, params.id, todayOf(services, who))),
    lettingGo: async ({ params, who }) => {
      const today = todayOf(services, who);
      return readLettingGo(database, await readDeal(database, params.id, today), today);
    },
  };
}
