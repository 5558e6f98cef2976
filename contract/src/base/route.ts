import * as z from 'zod';

/** Who may call a route at all. What a rep may do to a single record is decided by its owner, in the use case. */
export type Access = 'anyone' | 'rep' | 'manager' | 'admin';

export interface RouteSpec {
  readonly access: Access;
  readonly summary: string;
  readonly params?: z.ZodObject;
  readonly query?: z.ZodObject;
  readonly body?: z.ZodType;
  readonly reply: z.ZodType;
  /** Answered without asking who it is, also while the database that would know is away. */
  readonly withoutSession?: boolean;
  /** How often one person may ask for it in an hour. */
  readonly perHour?: number;
  /** Whoever must have a second factor and has none yet may ask for it all the same. */
  readonly beforeSecondFactor?: boolean;
  /**
   * Paths of ids that the request only refers to, such as `body.people[].contactId`: whoever may read the record may name it. Every other id
   * of a request that changes something is of a record it writes onto. A path covers what is under it.
   */
  readonly refersTo?: readonly string[];
}

/** The path parameter of a route about one record. */
export const byId = z.object({ id: z.uuid() });
export const nothing = z.object({});
export const ok = z.object({ ok: z.literal(true) });
