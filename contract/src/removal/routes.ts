import { type RouteSpec } from '../base/route';
import { archivedLeads, archiveLeads, archiveRecord, removed, removeRecord } from './schemas';

export const removalRoutes = {
  archiveRecord: {
    access: 'rep',
    summary:
      'Take a contact, company, deal, lead or agreement out of lists, counts and the Round, or back; undone as any change is',
    body: archiveRecord,
    reply: removed,
  },
  archiveLeads: {
    access: 'rep',
    perHour: 60,
    summary: 'Archive several leads that are decided, or take them out again',
    body: archiveLeads,
    reply: archivedLeads,
  },
  removeRecord: {
    access: 'rep',
    summary:
      'Delete a contact, company, deal, lead or agreement with all that is only about it; undone as any change is',
    body: removeRecord,
    reply: removed,
  },
} as const satisfies Record<string, RouteSpec>;
