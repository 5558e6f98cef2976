import * as z from 'zod';
import { byId, ok, type RouteSpec } from '../base/route';
import { failedJobs } from './schemas';

export const jobsRoutes = {
  failedJobs: { access: 'admin', summary: 'Background work that failed for good', reply: failedJobs },
  retryJob: {
    access: 'admin',
    summary: 'Try failed background work again',
    params: byId.extend({ id: z.uuid() }),
    reply: ok,
  },
} as const satisfies Record<string, RouteSpec>;
