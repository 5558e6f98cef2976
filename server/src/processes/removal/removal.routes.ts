import type { Handlers } from '../../platform/http/bind-routes';
import type { Services } from '../../platform/services';
import { archiveRecord } from './archive-record';
import { removeRecord } from './remove-record';

export function removalRoutes(services: Services): Pick<Handlers, 'archiveRecord' | 'removeRecord'> {
  return {
    archiveRecord: async ({ who, body }) => ({ words: await archiveRecord(services, who, body) }),
    removeRecord: async ({ who, body }) => ({ words: await removeRecord(services, who, body) }),
  };
}
