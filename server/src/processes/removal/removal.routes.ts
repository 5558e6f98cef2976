import type { Handlers } from '../../platform/http/bind-routes';
import type { Services } from '../../platform/services';
import { removeRecord } from './remove-record';

export function removalRoutes(services: Services): Pick<Handlers, 'removeRecord'> {
  return {
    removeRecord: async ({ who, body }) => ({ words: await removeRecord(services, who, body) }),
  };
}
