import * as z from 'zod';
import { hookId } from '../base/ids';
import { instant, line, resolved, version } from '../base/values';
import { hookEventNames, type HookEventName } from './kinds';

export const hookEventName = z.enum(hookEventNames as [HookEventName, ...HookEventName[]]);

export const hook = z.object({
  id: hookId,
  name: z.string(),
  url: z.string(),
  events: z.array(hookEventName),
  isOn: z.boolean(),
  /** Why it was switched off without anybody asking. */
  off: z.enum(['failing', 'gone']).nullable(),
  /** When it was last tried, and what came of it. */
  triedAt: instant.nullable(),
  failingSince: instant.nullable(),
  failure: z.string().nullable(),
  /** How many events wait to be sent. */
  waiting: z.int(),
  /** Until when the secret before this one signs too. */
  formerUntil: instant.nullable(),
  version: z.int(),
});

export type Hook = z.infer<typeof hook>;

const url = z
  .string()
  .trim()
  .min(1, $localize`is needed`)
  .max(1000, $localize`is too long: at most 1,000 characters`);
const events = z
  .array(hookEventName)
  .min(1, $localize`needs at least one thing to tell`)
  .max(hookEventNames.length);

export const addHook = z.object({ name: line(80), url, events });
export const changeHook = z.object({ name: line(80), url, events, isOn: z.boolean(), version, resolved });

/** A web hook with its secret, which is said this once. */
export const hookWithSecret = z.object({ hook, secret: z.string() });

export const triedHook = z.object({ hook, status: z.int().nullable(), failure: z.string().nullable() });

export const hookCall = z.object({
  eventId: z.uuid(),
  /** As the receiver reads it in `webhook-id`. */
  messageId: z.string(),
  type: z.string(),
  madeAt: instant,
  state: z.enum(['waiting', 'sent', 'given-up']),
  tries: z.int(),
  /** What the address answered to the last try. */
  status: z.int().nullable(),
  failure: z.string().nullable(),
  triedAt: instant.nullable(),
  /** When it is tried next, while it waits. */
  nextAt: instant.nullable(),
});

export type HookCall = z.infer<typeof hookCall>;

/** What is sent: the body of a web hook. It has ids and no personal data; what they stand for is read by the API, under its rights. */
export const hookMessage = z.object({
  type: z.union([hookEventName, z.literal('rule.fired'), z.literal('ping')]),
  timestamp: instant,
  data: z.object({
    /** The record it happened to. */
    id: z.uuid(),
    record: z.string(),
    /** Where the API has it, if it has one of its own. */
    href: z.string().nullable(),
    /** Who did it; null for the application itself. */
    userId: z.uuid().nullable(),
    /** The change it was part of; several events may be. */
    changeId: z.uuid(),
    /** Contacts, companies and deals it is about. */
    about: z.array(z.uuid()),
    /** Names of what changed. */
    fields: z.array(z.string()),
    /** Where something went from one to another: a stage, an owner, a standing. */
    from: z.string().nullable(),
    to: z.string().nullable(),
  }),
});

export type HookMessage = z.infer<typeof hookMessage>;
