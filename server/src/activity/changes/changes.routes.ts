import type { Handlers } from '../../platform/http/bind-routes';
import type { Services } from '../../platform/services';
import { listSets } from './list-sets';
import { undoLog } from './undo-log';
import { undoSet } from './undo-set';

export function changesRoutes(services: Services): Pick<Handlers, 'listChanges' | 'undoChange' | 'undoLog'> {
  const { database, clock } = services;
  return {
    listChanges: async ({ query, who }) => ({ changes: await listSets(database, who, query, clock.now()) }),
    undoChange: async ({ params, who }) => {
      await undoSet(services, who, params.id);
      return { words: 'Undone.' };
    },
    undoLog: async ({ params, who }) => {
      await undoLog(services, who, params.id);
      return { ok: true } as const;
    },
  };
}
