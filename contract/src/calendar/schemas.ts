import * as z from 'zod';
import { appointmentId, contactId, dealId, taskId, userId } from '../base/ids';
import { instant, line, minuteOfDay, plainDate, resolved, version } from '../base/values';
import { channel } from '../base/words';

/** How a customer is met. */
export const appointmentChannel = z.enum(['meeting', 'visit']);

/** Over and still `planned`: nobody said yet whether it took place. */
export const appointmentState = z.enum(['planned', 'held', 'missed', 'called-off']);

export const invitationAnswer = z.enum(['none', 'accepted', 'declined', 'tentative']);

/** The longest an appointment may be, in minutes: a day. */
export const mostAppointmentMinutes = 1440;

const colleague = z.object({ userId, name: z.string() });
const guest = z.object({ contactId, name: z.string() });

export const appointment = z.object({
  id: appointmentId,
  title: z.string(),
  ownerId: userId,
  ownerName: z.string(),
  startsAt: instant,
  endsAt: instant,
  place: z.string().nullable(),
  /** Minutes on the way there and back. */
  travelMinutes: z.int(),
  travelAfterMinutes: z.int(),
  note: z.string().nullable(),
  /** Null is time of one's own: nobody outside the organisation is met. */
  channel: appointmentChannel.nullable(),
  contactId: contactId.nullable(),
  contactName: z.string().nullable(),
  companyName: z.string().nullable(),
  dealId: dealId.nullable(),
  dealName: z.string().nullable(),
  /** Further people who come, and colleagues. */
  guests: z.array(guest),
  colleagues: z.array(colleague),
  /** The task that stands for it in the Round; null for time of one's own. */
  taskId: taskId.nullable(),
  state: appointmentState,
  remindMinutes: z.int().nullable(),
  /** Whether the people who come are invited by mail, and told of changes. */
  invites: z.boolean(),
  /** Who was invited, and what they said. */
  invitations: z.array(
    z.object({
      contactId,
      name: z.string(),
      email: z.string(),
      answer: invitationAnswer,
      /** Another time they would like instead. */
      counter: z.object({ startsAt: instant, endsAt: instant }).nullable(),
      words: z.string().nullable(),
    }),
  ),
  version: z.int(),
});

export type Appointment = z.infer<typeof appointment>;

const travel = z
  .int()
  .min(0)
  .max(480, $localize`must be at most 480 minutes`);

const fields = {
  title: line(200),
  startsAt: instant,
  minutes: z
    .int()
    .min(5, $localize`must be at least 5 minutes`)
    .max(mostAppointmentMinutes, $localize`must be at most a day`),
  place: z.string().trim().max(160).nullable(),
  travelMinutes: travel,
  travelAfterMinutes: travel,
  note: z.string().trim().max(5000).nullable(),
  channel: appointmentChannel.nullable(),
  contactId: contactId.nullable(),
  dealId: dealId.nullable(),
  guestIds: z.array(contactId).max(30),
  colleagueIds: z.array(userId).max(30),
  /** Who is there for us. */
  ownerId: userId,
  remindMinutes: z
    .int()
    .min(0)
    .max(14 * 1440)
    .nullable(),
  invites: z.boolean(),
};

export const planAppointment = z.object({
  ...fields,
  place: fields.place.default(null),
  travelMinutes: fields.travelMinutes.default(0),
  travelAfterMinutes: fields.travelAfterMinutes.default(0),
  note: fields.note.default(null),
  channel: fields.channel.default(null),
  contactId: fields.contactId.default(null),
  dealId: fields.dealId.default(null),
  guestIds: fields.guestIds.default([]),
  colleagueIds: fields.colleagueIds.default([]),
  /** Nobody named means whoever plans it. */
  ownerId: userId.nullable().default(null),
  remindMinutes: fields.remindMinutes.default(null),
  invites: fields.invites.default(false),
});

// What is left out stays as it is.
export const changeAppointment = z.object({ version, resolved, ...z.object(fields).partial().shape });

/** What comes in place of an appointment that was called off. */
const insteadOfIt = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('moved'), startsAt: instant, minutes: fields.minutes }),
  z.object({
    kind: z.literal('task'),
    channel,
    purpose: line(200),
    dueOn: plainDate,
    promisedMinute: minuteOfDay.nullable().default(null),
    minutes: z.int().min(1).max(480),
  }),
  z.object({ kind: z.literal('none') }),
]);

export const callOffAppointment = z.object({
  version,
  reason: z.string().trim().max(300).default(''),
  instead: insteadOfIt,
});

/** A time that is thought of: what would be in its way. */
export const appointmentTime = z.object({
  startsAt: instant,
  minutes: fields.minutes,
  travelMinutes: travel.default(0),
  travelAfterMinutes: travel.default(0),
  ownerId: userId.nullable().default(null),
  colleagueIds: fields.colleagueIds.default([]),
  contactIds: z.array(contactId).max(31).default([]),
  /** The appointment that is moved: it is not in its own way. */
  exceptId: appointmentId.nullable().default(null),
});

/** Who would have to be free, and for how long. */
export const freeTimesAsked = appointmentTime
  .omit({ startsAt: true, exceptId: true })
  .extend({ from: plainDate, contactIds: z.array(contactId).max(10).default([]) });

export const freeTimes = z.object({
  times: z.array(
    z.object({
      startsAt: instant,
      /** What the clock shows for those who are elsewhere: `15:00 for Maud Ellery`. */
      elsewhere: z.array(z.string()),
    }),
  ),
});

export type FreeTimes = z.infer<typeof freeTimes>;

/** Times that somebody outside is asked to choose among. */
export const offerTimes = z.object({
  contactId,
  dealId: dealId.nullable().default(null),
  channel: appointmentChannel.default('meeting'),
  title: line(200),
  place: fields.place.default(null),
  minutes: fields.minutes,
  times: z
    .array(instant)
    .min(1)
    .max(3, $localize`at most three, so that it is easy to choose`)
    .refine((times) => new Set(times).size === times.length, $localize`has a time twice`),
});

export const appointmentWarnings = z.object({
  warnings: z.array(
    z.object({
      kind: z.enum(['overlap', 'past', 'off', 'hours', 'their-off', 'their-hours']),
      /** A sentence: who has what at that time. */
      words: z.string(),
    }),
  ),
});

export type AppointmentWarnings = z.infer<typeof appointmentWarnings>;

/** Something at a time of somebody's day. What may not be read is `busy`, without a word; `outside` is in a calendar elsewhere. */
export const calendarEntry = z.object({
  kind: z.enum(['appointment', 'task', 'busy', 'outside']),
  /** Of the appointment, of the task that was promised for a time, or of the event elsewhere. */
  id: z.uuid(),
  ownerId: userId,
  /** Everybody in whose calendar it is. */
  personIds: z.array(userId),
  title: z.string(),
  startsAt: instant,
  endsAt: instant,
  travelMinutes: z.int(),
  travelAfterMinutes: z.int(),
  place: z.string().nullable(),
  channel: channel.nullable(),
  contactId: contactId.nullable(),
  contactName: z.string().nullable(),
  companyName: z.string().nullable(),
  dealId: dealId.nullable(),
  dealName: z.string().nullable(),
  taskId: taskId.nullable(),
  state: appointmentState,
  /** Whether the reader may move it. */
  mayChange: z.boolean(),
  version: z.int(),
});

export type CalendarEntry = z.infer<typeof calendarEntry>;

/** The longest stretch a calendar shows at once, in days: six weeks. */
export const mostCalendarDays = 42;

export const calendarQuery = z.object({
  from: plainDate,
  days: z.coerce.number().int().min(1).max(mostCalendarDays),
  who: z.union([z.enum(['mine', 'team']), userId]).default('mine'),
});

export const calendar = z.object({
  people: z.array(colleague),
  days: z.array(
    z.object({
      on: plainDate,
      isOff: z.boolean(),
      /** `Christmas Day`; null where it is a weekend or a working day. */
      holiday: z.string().nullable(),
      /** Open tasks of that day without a time, and steps of cadences. */
      tasks: z.int(),
      steps: z.int(),
      /** What lasts the whole day in one's own calendars elsewhere. */
      notes: z.array(z.string()),
    }),
  ),
  /** In order of their beginning. */
  entries: z.array(calendarEntry),
});

export type Calendar = z.infer<typeof calendar>;

/** The secret address of one's calendar, as far as it is kept: since when, and when somebody last read it. */
export const calendarFeed = z.object({
  feed: z.object({ createdAt: instant, readAt: instant.nullable() }).nullable(),
});

export type CalendarFeed = z.infer<typeof calendarFeed>;

/** Told once: only its hash is kept. */
export const madeCalendarFeed = z.object({ url: z.string() });

export const spineBlock = z.object({
  id: z.uuid(),
  /** It is in a calendar elsewhere: it cannot be opened here. */
  isOutside: z.boolean(),
  title: z.string(),
  place: z.string().nullable(),
  startsAt: instant,
  endsAt: instant,
  travelMinutes: z.int(),
  travelAfterMinutes: z.int(),
});

export type SpineBlock = z.infer<typeof spineBlock>;

export const spine = z.object({
  on: plainDate,
  dayStart: instant,
  dayEnd: instant,
  blocks: z.array(spineBlock),
  gaps: z.array(z.object({ from: instant, to: instant, minutes: z.int() })),
  promises: z.array(z.object({ at: instant, words: z.string(), minutes: z.int() })),
});

export type Spine = z.infer<typeof spine>;
