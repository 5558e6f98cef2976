import * as z from 'zod';
import { changesAfter } from './changes';
import { nothing, ok, type RouteSpec } from './route';

export const baseRoutes = {
  health: { access: 'anyone', summary: 'Whether the server and its database answer', reply: ok },
  openApi: { access: 'anyone', summary: 'This description', reply: z.looseObject({}) },
  changes: {
    access: 'rep',
    summary: 'Server-sent events: what changed, from a known change on',
    query: changesAfter,
    reply: nothing,
  },
} as const satisfies Record<string, RouteSpec>;
