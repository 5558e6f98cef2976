import type { Handlers } from '../../platform/http/bind-routes';
import type { Services } from '../../platform/services';
import { readAt, type SignedIn } from '../../records/users/index';
import { changeDeal, moveDeal, notchDeal } from './change-deal';
import { closeDeal, reopenDeal, undoClose } from './close-deal';
import { readClosingSteps } from './closing-steps';
import { createDeal } from './create-deal';
import { readDeal } from './deal-rows';
import { readLettingGo } from './letting-go';
import { listRoutes } from '../../records/grid/index';
import { dealsList, listDeals } from './list-deals';
import { tickPrompt } from './tick-prompt';
import { work, type PersonWork } from '../../platform/work/work';

type Names =
  | 'listDeals'
  | 'pageDeals'
  | 'countDeals'
  | 'exportDeals'
  | 'createDeal'
  | 'getDeal'
  | 'changeDeal'
  | 'moveDeal'
  | 'notchDeal'
  | 'closeDeal'
  | 'reopenDeal'
  | 'undoClose'
  | 'tickPrompt'
  | 'lettingGo'
  | 'closingSteps';

export function dealsRoutes(services: Services): Pick<Handlers, Names> {
  const { database } = services;
  /** Changes a deal, and answers with it as it is then. */
  const changing = async (who: SignedIn, id: string, act: (w: PersonWork) => Promise<void>) => {
    await work(services, who, act);
    return readDeal(database, id, readAt(services, who));
  };
  const list = listRoutes(services, dealsList);
  return {
    getDeal: ({ params, who }) => readDeal(database, params.id, readAt(services, who)),
    listDeals: ({ query, who }) => listDeals(services, who, query),
    pageDeals: list.page,
    countDeals: list.count,
    exportDeals: list.export,
    createDeal: async ({ body, who }) => {
      const id = await work(services, who, (w) => createDeal(w, body));
      return readDeal(database, id, readAt(services, who));
    },
    changeDeal: ({ params: { id }, body, who }) => changing(who, id, (w) => changeDeal(w, id, body)),
    moveDeal: ({ params: { id }, body, who }) => changing(who, id, (w) => moveDeal(w, id, body)),
    notchDeal: ({ params: { id }, body, who }) => changing(who, id, (w) => notchDeal(w, id, body)),
    closeDeal: ({ params: { id }, body, who }) => changing(who, id, (w) => closeDeal(w, id, body)),
    reopenDeal: ({ params: { id }, body, who }) => changing(who, id, (w) => reopenDeal(w, id, body)),
    undoClose: ({ params, who }) => undoClose(services, who, params.id),
    tickPrompt: ({ params: { id }, body, who }) => changing(who, id, (w) => tickPrompt(w, id, body)),
    closingSteps: async ({ params, who }) =>
      readClosingSteps(database, await readDeal(database, params.id, readAt(services, who))),
    lettingGo: async ({ params, who }) => {
      const at = readAt(services, who);
      return readLettingGo(database, await readDeal(database, params.id, at), at.today);
    },
  };
}
