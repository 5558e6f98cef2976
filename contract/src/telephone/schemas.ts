import * as z from 'zod';
import { contactId, phoneCallId, textId } from '../base/ids';
import { instant } from '../base/values';
import { sendByHand } from '../mail';

export const sendText = sendByHand.extend({
  body: z
    .string()
    .trim()
    .min(1, $localize`must not be empty`)
    .max(600, $localize`a text has at most 600 characters`),
});

export const callState = z.enum(['dialling', 'ringing', 'answered', 'ended', 'failed']);

export const callResult = z.enum(['answered', 'no-answer', 'busy', 'voicemail', 'wrong-number', 'failed']);

export const phoneCall = z.object({
  id: phoneCallId,
  contactId: contactId.nullable(),
  number: z.string(),
  state: callState,
  result: callResult.nullable(),
  startedAt: instant,
  answeredAt: instant.nullable(),
  seconds: z.int().nullable(),
  /** The outcome that fits what the line tells. */
  outcomeId: z.string().nullable(),
});

export type PhoneCall = z.infer<typeof phoneCall>;

export const dial = z.object({ id: phoneCallId, contactId, number: z.string().min(3).max(30) });

export const textRow = z.object({
  id: textId,
  direction: z.enum(['out', 'in']),
  state: z.enum(['waiting', 'sent', 'delivered', 'failed', 'withdrawn', 'filed', 'unfiled']),
  at: instant,
  number: z.string(),
  body: z.string(),
  said: z.string().nullable(),
});

export const listTexts = z.object({ contactId });
