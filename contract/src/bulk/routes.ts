import { bulkId } from '../base/ids';
import { byId, type RouteSpec } from '../base/route';
import { bulkPlan, bulkProgress, givenRecords, giveRecords, startBulk } from './schemas';

export const bulkRoutes = {
  giveRecords: {
    access: 'rep',
    perHour: 60,
    summary: 'Give several records to a colleague',
    body: giveRecords,
    reply: givenRecords,
  },
  planBulk: {
    access: 'rep',
    summary: 'What a bulk change would do',
    body: startBulk,
    refersTo: ['body.selection.ids'],
    reply: bulkPlan,
  },
  startBulk: {
    access: 'rep',
    perHour: 60,
    summary: 'Change many contacts',
    body: startBulk,
    refersTo: ['body.selection.ids'],
    reply: bulkProgress,
  },
  getBulk: {
    access: 'rep',
    summary: 'How far a bulk change is',
    params: byId.extend({ id: bulkId }),
    reply: bulkProgress,
  },
  retryBulk: {
    access: 'rep',
    summary: 'Try the parts again that failed for good',
    params: byId.extend({ id: bulkId }),
    reply: bulkProgress,
  },
  undoBulk: {
    access: 'rep',
    summary: 'Undo a bulk change',
    params: byId.extend({ id: bulkId }),
    reply: bulkProgress,
  },
} as const satisfies Record<string, RouteSpec>;
