import type { Handlers } from '../../platform/http/bind-routes';
import type { Services } from '../../platform/services';
import { beginBulk, beginUndo, planBulk, readProgress } from './bulk';

export function bulkRoutes(
  services: Services,
): Pick<Handlers, 'planBulk' | 'startBulk' | 'getBulk' | 'undoBulk'> {
  const { database } = services;
  return {
    planBulk: ({ who, body }) => planBulk(services, who, body),
    startBulk: async ({ who, body }) => {
      await beginBulk(services, who, body);
      return readProgress(database, who, body.id);
    },
    getBulk: ({ who, params }) => readProgress(database, who, params.id),
    undoBulk: async ({ who, params }) => {
      await beginUndo(services, who, params.id);
      return readProgress(database, who, params.id);
    },
  };
}
