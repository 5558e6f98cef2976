import * as z from 'zod';

/** Ready, or ready with something an operator should look at; when it cannot work it answers 503. */
export const health = z.object({ state: z.enum(['ready', 'degraded']), because: z.array(z.string()) });
export type Health = z.infer<typeof health>;
