import * as z from 'zod';
import { changesAfter } from './changes';
import { health } from './health';
import { nothing, ok, type RouteSpec } from './route';

export const baseRoutes = {
  live: { access: 'anyone', withoutSession: true, summary: 'Whether the server answers at all', reply: ok },
  health: {
    access: 'anyone',
    withoutSession: true,
    summary: 'Whether the server can work: its database and its background work',
    reply: health,
  },
  openApi: { access: 'anyone', summary: 'This description', reply: z.looseObject({}) },
  changes: {
    access: 'rep',
    summary: 'Server-sent events: what changed, from a known change on',
    query: changesAfter,
    reply: nothing,
  },
} as const satisfies Record<string, RouteSpec>;
