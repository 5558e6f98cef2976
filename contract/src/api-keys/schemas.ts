import * as z from 'zod';
import { apiKeyId, userId } from '../base/ids';
import { instant, line, plainDate } from '../base/values';
import { keyScopes, type KeyScope } from './kinds';

export const keyScope = z.enum(keyScopes as [KeyScope, ...KeyScope[]]);

export const apiKey = z.object({
  id: apiKeyId,
  name: z.string(),
  /** Whose it is: it may do what they may, and no more than its scopes. */
  userId,
  owner: z.string(),
  /** How the key begins, to be told from others; the rest is nowhere. */
  start: z.string(),
  scopes: z.array(keyScope),
  madeAt: instant,
  /** The last day it counts; null: until it is withdrawn. */
  lastOn: plainDate.nullable(),
  usedAt: instant.nullable(),
  state: z.enum(['counts', 'over', 'withdrawn']),
});

export type ApiKey = z.infer<typeof apiKey>;

export const makeApiKey = z.object({
  name: line(80),
  scopes: z
    .array(keyScope)
    .min(1, $localize`needs at least one thing it may do`)
    .max(keyScopes.length),
  lastOn: plainDate.nullable(),
  /** One's own: a browser left open makes no key. */
  password: z
    .string()
    .min(1, $localize`must not be empty`)
    .max(200),
});

export const madeApiKey = z.object({
  key: apiKey,
  /** Said this once. */
  token: z.string(),
});
