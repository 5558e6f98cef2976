import * as z from 'zod';
import { phoneCallId } from '../base/ids';
import { byId, type RouteSpec } from '../base/route';
import { logged } from '../journal';
import { dial, listTexts, phoneCall, sendText, textRow } from './schemas';

export const telephoneRoutes = {
  dial: { access: 'rep', perHour: 240, summary: 'Dial a number', body: dial, reply: phoneCall },
  getCall: {
    access: 'rep',
    summary: 'A call as the line tells it',
    params: byId.extend({ id: phoneCallId }),
    reply: phoneCall,
  },
  hangUp: {
    access: 'rep',
    summary: 'End a call',
    params: byId.extend({ id: phoneCallId }),
    reply: phoneCall,
  },
  sendText: {
    access: 'rep',
    perHour: 240,
    summary: 'Send a text and log it with its next step',
    body: sendText,
    refersTo: ['body.answers'],
    reply: logged,
  },
  listTexts: {
    access: 'rep',
    summary: 'Texts with a contact',
    query: listTexts,
    reply: z.object({ texts: z.array(textRow) }),
  },
} as const satisfies Record<string, RouteSpec>;
