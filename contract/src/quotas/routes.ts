import { ok, type RouteSpec } from '../base/route';
import { quotaBoard, quotaBoardQuery, quotas, quotasQuery, setQuota } from './schemas';

export const quotasRoutes = {
  readQuotas: {
    access: 'rep',
    summary: 'Quotas by month: one’s own, and those of whom one leads',
    query: quotasQuery,
    reply: quotas,
  },
  setQuota: {
    access: 'manager',
    summary: 'Set what a person or a team is to win in a month, or from it on',
    body: setQuota,
    reply: ok,
  },
  quotaBoard: {
    access: 'rep',
    summary: 'What was won in a month against its quota, by person and by team',
    query: quotaBoardQuery,
    reply: quotaBoard,
  },
} as const satisfies Record<string, RouteSpec>;
