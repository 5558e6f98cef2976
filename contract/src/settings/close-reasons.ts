import * as z from 'zod';
import { line, resolved } from '../base/values';

/** Reasons to choose from when a deal closes or a lead is set aside; others can be typed. */
export const closeReasons = z.object({
  version: z.int(),
  won: z.array(line(120)).max(40),
  lost: z.array(line(120)).max(40),
  parked: z.array(line(120)).max(40),
  aside: z.array(line(120)).max(40),
  /** A deal is won only with a reason, as it is lost only with one. */
  wonNeedsReason: z.boolean(),
});

export const changeCloseReasons = closeReasons.extend({ resolved });

export type CloseReasons = z.infer<typeof closeReasons>;
