import { type RouteSpec } from '../base/route';
import { removed, removeRecord } from './schemas';

export const removalRoutes = {
  removeRecord: {
    access: 'rep',
    summary:
      'Delete a contact, company, deal, lead or agreement with all that is only about it; undone as any change is',
    body: removeRecord,
    reply: removed,
  },
} as const satisfies Record<string, RouteSpec>;
