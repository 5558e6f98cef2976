import * as z from 'zod';
import { dealId, userId } from '../base/ids';
import { plainDate } from '../base/values';
import { kindList } from '../journal/schemas';

export const teamLogQuery = z.object({
  /** Where the page before ended. */
  before: z.string().max(100).optional(),
  /** None means all but the system's own. */
  kinds: kindList.optional(),
  userId: userId.optional(),
  dealId: dealId.optional(),
  /** `mine`: one's own; `team`: everybody's that one may read. */
  whose: z.enum(['mine', 'team']).default('team'),
  from: plainDate.optional(),
  to: plainDate.optional(),
  limit: z.coerce.number().int().min(1).max(100).default(30),
});

export type TeamLogQuery = z.output<typeof teamLogQuery>;

export const rankingQuery = z
  .object({ from: plainDate, to: plainDate })
  .refine(({ from, to }) => from <= to, {
    message: $localize`must not lie after the end`,
    path: ['from'],
  });

const rankedNumbers = z.object({
  /** Calls, mails, texts, meetings and visits that somebody logged or wrote themselves. */
  touches: z.int(),
  /** Touches in which both sides spoke. */
  conversations: z.int(),
  /** Meetings and visits that took place. */
  meetings: z.int(),
  won: z.int(),
  wonMinor: z.int(),
});

export type RankedNumbers = z.infer<typeof rankedNumbers>;

export const ranking = z.object({
  from: plainDate,
  to: plainDate,
  /** As many days before it. */
  before: z.object({ from: plainDate, to: plainDate }),
  people: z.array(rankedNumbers.extend({ userId, name: z.string(), before: rankedNumbers })),
});

export type Ranking = z.infer<typeof ranking>;
