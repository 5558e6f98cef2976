import * as z from 'zod';
import { stirringId } from '../base/ids';
import { byId, type RouteSpec } from '../base/route';
import { fileStirring, handleStirring, listStirrings, stirring } from './schemas';

export const stirringsRoutes = {
  listStirrings: {
    access: 'rep',
    summary: 'Signs of life',
    query: listStirrings,
    reply: z.object({ rows: z.array(stirring), open: z.int() }),
  },
  fileStirring: {
    access: 'rep',
    summary: 'Say whose a call or text from an unknown number was',
    params: byId.extend({ id: stirringId }),
    body: fileStirring,
    reply: stirring,
  },
  handleStirring: {
    access: 'rep',
    summary: 'A sign of life was looked at, or is to be again',
    params: byId.extend({ id: stirringId }),
    body: handleStirring,
    reply: stirring,
  },
} as const satisfies Record<string, RouteSpec>;
