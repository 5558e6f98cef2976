import type { Handlers } from '../../platform/http/bind-routes';
import type { Services } from '../../platform/services';
import { beginBulk, retryBulk } from './begin-bulk';
import { work } from '../../platform/work/work';
import { giveRecords } from './give-records';
import { planBulk } from './plan-bulk';
import { readProgress } from './read-progress';
import { beginUndo } from './undo-bulk';

export function bulkRoutes(
  services: Services,
): Pick<Handlers, 'giveRecords' | 'planBulk' | 'startBulk' | 'getBulk' | 'retryBulk' | 'undoBulk'> {
  const { database } = services;
  return {
    giveRecords: ({ who, body }) => work(services, who, (w) => giveRecords(w, body)),
    planBulk: ({ who, body }) => planBulk(services, who, body),
    startBulk: async ({ who, body }) => {
      await beginBulk(services, who, body);
      return readProgress(database, who, body.id);
    },
    getBulk: ({ who, params }) => readProgress(database, who, params.id),
    retryBulk: async ({ who, params }) => {
      await retryBulk(services, who, params.id);
      return readProgress(database, who, params.id);
    },
    undoBulk: async ({ who, params }) => {
      await beginUndo(services, who, params.id);
      return readProgress(database, who, params.id);
    },
  };
}
