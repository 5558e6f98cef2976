import * as z from 'zod';
import { standingId } from './ids';
import { channel, direction, touchCount } from './words';

/** What the next step should be after an outcome; the core turns it into a channel, a day and a reason. */
export const nextStepRule = z.enum([
  'follow-up',
  'retry',
  'same-day',
  'await-answer',
  'agree-new-date',
  'fix-details',
  'nothing',
]);

export type NextStepRule = z.infer<typeof nextStepRule>;

/** One way an act can end, picked with its number key. */
export const outcome = z.object({
  id: z.string().regex(/^[a-z-]{2,40}$/),
  kind: channel,
  direction,
  label: z.string().min(1).max(60),
  counts: touchCount,
  /** Whether a cadence stops here because its purpose is reached or gone. */
  endsRun: z.boolean(),
  rule: nextStepRule,
  /** Where the contact's standing moves with this outcome. */
  standingId: standingId.nullable().default(null),
});

export type Outcome = z.infer<typeof outcome>;

export const outcomeId = z.string().regex(/^[a-z-]{2,40}$/, $localize`is not the name of an outcome`);
