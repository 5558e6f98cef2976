import * as z from 'zod';
import { pipelineId } from '../base/ids';
import type { RouteSpec } from '../base/route';
import { askForecast, calibration, forecast } from './schemas';

export const numbersRoutes = {
  forecast: {
    access: 'rep',
    summary:
      'What a month or a quarter may bring, and what it would if deals came out otherwise; nothing is saved',
    body: askForecast,
    refersTo: ['body.whatIf'],
    perHour: 1200,
    reply: forecast,
  },
  calibration: {
    access: 'rep',
    summary: 'How well the chances of stages foretold what came of deals, and what they should be',
    query: z.object({ pipelineId: pipelineId.optional() }),
    reply: calibration,
  },
} as const satisfies Record<string, RouteSpec>;
