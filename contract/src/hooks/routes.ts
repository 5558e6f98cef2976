import * as z from 'zod';
import { hookId } from '../base/ids';
import { byId, ok, type RouteSpec } from '../base/route';
import { addHook, changeHook, hook, hookCall, hookWithSecret, triedHook } from './schemas';

const oneHook = byId.extend({ id: hookId });

export const hooksRoutes = {
  listHooks: {
    access: 'admin',
    summary: 'Addresses outside that are told what happens here, and how telling them went',
    reply: z.object({ hooks: z.array(hook) }),
  },
  addHook: {
    access: 'admin',
    summary: 'Tell an address outside what happens here; its secret is said this once',
    body: addHook,
    perHour: 60,
    reply: hookWithSecret,
  },
  changeHook: {
    access: 'admin',
    summary: 'Change what an address is told, or switch it on or off',
    params: oneHook,
    body: changeHook,
    perHour: 120,
    reply: hook,
  },
  removeHook: { access: 'admin', summary: 'Tell an address nothing more', params: oneHook, reply: ok },
  renewHookSecret: {
    access: 'admin',
    summary: 'A new secret; the one before it signs too for a day',
    params: oneHook,
    perHour: 60,
    reply: hookWithSecret,
  },
  tryHook: {
    access: 'admin',
    summary: 'Send an address something now, and say what it answers',
    params: oneHook,
    perHour: 120,
    reply: triedHook,
  },
  listHookCalls: {
    access: 'admin',
    summary: 'What an address was told of late, or is still to be told, newest first',
    params: oneHook,
    reply: z.object({ calls: z.array(hookCall), isCut: z.boolean() }),
  },
  sendHookCallAgain: {
    access: 'admin',
    summary: 'Tell an address again what was given up, or what it wants to hear twice',
    params: oneHook.extend({ eventId: z.uuid() }),
    reply: ok,
  },
} as const satisfies Record<string, RouteSpec>;
