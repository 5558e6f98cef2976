import * as z from 'zod';
import { appointmentId, outsideCalendarId } from '../base/ids';
import { instant, line } from '../base/values';

/** Read at an address (iCalendar), or kept in step both ways (CalDAV). */
export const outsideCalendarKind = z.enum(['address', 'both-ways']);

const sideOf = { startsAt: instant, endsAt: instant, title: z.string(), place: z.string().nullable() };

/** An appointment of which both sides say something else: whoever has it says what counts. */
export const outsideQuestion = z.object({
  appointmentId,
  ours: z.object(sideOf),
  /** Null: it was deleted there. */
  theirs: z.object(sideOf).nullable(),
});

export type OutsideQuestion = z.infer<typeof outsideQuestion>;

export const outsideCalendar = z.object({
  id: outsideCalendarId,
  name: z.string(),
  kind: outsideCalendarKind,
  address: z.string(),
  login: z.string().nullable(),
  /** Whether what is in it takes time of one's day. */
  isBusy: z.boolean(),
  /** When it was read last, with what came of it. */
  readAt: instant.nullable(),
  failingSince: instant.nullable(),
  failure: z.string().nullable(),
  /** How many events of the months that are looked at are here. */
  events: z.int(),
  /** There is more in it than is read. */
  isCut: z.boolean(),
  questions: z.array(outsideQuestion),
  version: z.int(),
});

export type OutsideCalendar = z.infer<typeof outsideCalendar>;

const address = z
  .string()
  .trim()
  .min(1, $localize`is needed`)
  .max(1500, $localize`is too long: at most 1,500 characters`);
const login = z
  .string()
  .trim()
  .min(1, $localize`is needed`)
  .max(200);
const password = z
  .string()
  .min(1, $localize`is needed`)
  .max(500);

/** A server of calendars, with what opens it. */
export const calendarServer = z.object({ address, login, password });

export const foundCalendars = z.object({
  calendars: z.array(z.object({ address: z.string(), name: z.string() })),
});

const named = { name: line(120), isBusy: z.boolean().default(true) };

export const addOutsideCalendar = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('address'), ...named, address }),
  z.object({ kind: z.literal('both-ways'), ...named, address, login, password }),
]);

export const changeOutsideCalendar = z.object({ name: line(120), isBusy: z.boolean() });

/** Which side of a question counts. Theirs, where it was deleted there, calls the appointment off. */
export const settleOutsideQuestion = z.object({ appointmentId, keep: z.enum(['ours', 'theirs']) });
