import { changeSetId } from '../base/ids';
import { byId, type RouteSpec } from '../base/route';
import { changeList, listChanges, undone } from './schemas';

export const changesRoutes = {
  listChanges: {
    access: 'rep',
    summary: 'Changes of the last 30 days that can be undone, newest first',
    query: listChanges,
    reply: changeList,
  },
  undoChange: {
    access: 'rep',
    summary: 'Undo a change with all it did, while nothing of it was changed since',
    params: byId.extend({ id: changeSetId }),
    reply: undone,
  },
} as const satisfies Record<string, RouteSpec>;
