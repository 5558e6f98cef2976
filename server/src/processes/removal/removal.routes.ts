import type { Handlers } from '../../platform/http/bind-routes';
import type { Services } from '../../platform/services';
import { work } from '../../platform/work/work';
import { archiveLeads, archiveRecord } from './archive-record';
import { removeRecord } from './remove-record';

export function removalRoutes(
  services: Services,
): Pick<Handlers, 'archiveLeads' | 'archiveRecord' | 'removeRecord'> {
  return {
    archiveRecord: async ({ who, body }) => ({ words: await archiveRecord(services, who, body) }),
    archiveLeads: ({ who, body }) => work(services, who, (w) => archiveLeads(w, body)),
    removeRecord: async ({ who, body }) => ({ words: await removeRecord(services, who, body) }),
  };
}
