import { type RouteSpec } from '../base/route';
import { jotReading, readJot, savedJot, saveJot } from './schemas';

export const jotRoutes = {
  readJot: {
    access: 'rep',
    summary: 'What one line means',
    body: readJot,
    refersTo: ['body.aboutId'],
    reply: jotReading,
  },
  saveJot: {
    access: 'rep',
    summary: 'Write what a line was shown to mean',
    body: saveJot,
    reply: savedJot,
  },
} as const satisfies Record<string, RouteSpec>;
