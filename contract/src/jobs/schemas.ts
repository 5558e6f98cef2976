import * as z from 'zod';
import { instant } from '../base/values';

/** Background work that came to nothing: tried as often as is tried, or broken off where nobody knows whether it happened. */
export const failedJob = z.object({
  id: z.uuid(),
  /** What it was to do, in words. */
  words: z.string(),
  state: z.enum(['failed', 'unclear']),
  askedByName: z.string().nullable(),
  at: instant.nullable(),
  tries: z.int(),
  /** What the program said, for whoever looks into it. */
  error: z.string().nullable(),
});
export type FailedJob = z.infer<typeof failedJob>;
/** The newest first, at most 200; `total` counts all. */
export const failedJobs = z.object({ jobs: z.array(failedJob), total: z.int() });
