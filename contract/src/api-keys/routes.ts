import * as z from 'zod';
import { apiKeyId } from '../base/ids';
import { byId, type RouteSpec } from '../base/route';
import { apiKey, madeApiKey, makeApiKey } from './schemas';

export const apiKeysRoutes = {
  apiKeys: {
    access: 'rep',
    summary: 'My API keys; an admin sees everybody’s',
    reply: z.object({ keys: z.array(apiKey) }),
  },
  makeApiKey: {
    access: 'rep',
    summary: 'Make an API key of mine; it is said this once',
    body: makeApiKey,
    perHour: 30,
    reply: madeApiKey,
  },
  withdrawApiKey: {
    access: 'rep',
    summary: 'Withdraw an API key of mine; an admin withdraws anybody’s',
    params: byId.extend({ id: apiKeyId }),
    reply: apiKey,
  },
} as const satisfies Record<string, RouteSpec>;
