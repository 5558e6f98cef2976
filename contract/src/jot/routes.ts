import { type RouteSpec } from '../base/route';
import { jotReading, readJot } from './schemas';

export const jotRoutes = {
  readJot: {
    access: 'rep',
    summary: 'What one line means',
    body: readJot,
    refersTo: ['body.aboutId'],
    reply: jotReading,
  },
} as const satisfies Record<string, RouteSpec>;
