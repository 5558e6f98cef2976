import * as z from 'zod';
import { userId } from '../base/ids';
import {
  countryCode,
  emailAddress,
  instant,
  line,
  minuteOfDay,
  plainDate,
  resolved,
  zoneName,
} from '../base/values';
import { minutesByChannel, role } from '../base/words';

/** A password that somebody chooses; the server also refuses common ones and one's own name. */
export const newPassword = z
  .string()
  .min(12, $localize`must be at least 12 characters long; a few words in a row are easy to keep`)
  .max(128, $localize`may have at most 128 characters`);

export const workingHours = z
  .object({
    /** ISO weekdays, 1 = Monday. */
    weekdays: z.array(z.int().min(1).max(7)).min(1).max(7),
    start: minuteOfDay,
    end: minuteOfDay,
  })
  .refine((hours) => hours.start < hours.end, {
    message: $localize`work must end after it starts`,
    path: ['end'],
  });

export type WorkingHours = z.infer<typeof workingHours>;

export const person = z.object({
  id: userId,
  name: z.string(),
  email: z.string(),
  role,
  zone: z.string(),
  country: z.string(),
  hours: workingHours,
  /** Days on which they are away, both included. */
  absences: z.array(z.object({ from: plainDate, to: plainDate })),
  version: z.int(),
});

export type Person = z.infer<typeof person>;

export const session = z.object({
  person,
  /** The server's clock at the reply; the browser keeps the difference, so that demo time works. */
  now: instant,
  currency: z.string(),
  /** Currencies an amount may be in: the organisation's own first. */
  currencies: z.array(z.string()),
  /** Public holidays where the person is, by day, from today for a year and a quarter. */
  holidays: z.record(plainDate, z.string()),
  /** How long a step by each channel takes, unless it is said. */
  minutes: minutesByChannel,
  /** The newest change known at the reply: the stream of changes goes on from it, so that nothing between the two is missed. */
  lastChange: z.object({ id: z.uuid(), knownAt: instant }).nullable(),
  /** Whose Rounds one works today beside one's own, and until when they are away. */
  standsInFor: z.array(z.object({ id: userId, name: z.string(), until: plainDate })),
  rights: z.object({
    /** Whose records may be changed, beside one's own and nobody's; null for everybody's. */
    changes: z.array(userId).nullable(),
    exports: z.boolean(),
    /** Whether one's changes of what goes out by itself hold at once, and others' may be released. */
    releases: z.boolean(),
  }),
  /** The organisation asks for a second factor, and none is set up: nothing else can be done before. */
  needsSecondFactor: z.boolean(),
  /** Demo accounts, whose password everybody knows, are there beside real ones: for admins to remove. */
  demoAccounts: z.int(),
});

export type Session = z.infer<typeof session>;

export const signIn = z.object({
  email: emailAddress,
  password: z
    .string()
    .min(1, $localize`must not be empty`)
    .max(200),
  /** Of the authenticator app, or a recovery code; asked for where a second factor is set up. */
  code: z.string().trim().max(20).optional(),
});

export const doorstep = z.object({
  /** True while no user exists: the first visitor makes the first admin. */
  needsAdmin: z.boolean(),
  demoPeople: z.array(
    z.object({ name: z.string(), email: z.string(), role, words: z.string(), password: z.string() }),
  ),
});

export type Doorstep = z.infer<typeof doorstep>;

export const createFirstAdmin = z.object({
  name: line(80),
  email: emailAddress,
  password: newPassword,
  zone: zoneName,
  country: countryCode,
});

/** When somebody works, and where: whose holidays are theirs, and how dates and numbers are written for them. */
export const changeMyHours = z.object({
  version: z.int(),
  resolved,
  zone: zoneName,
  country: countryCode,
  hours: workingHours,
});

/** A time in which somebody is away, and who works their Round meanwhile. */
export const absence = z.object({
  id: z.uuid(),
  userId,
  name: z.string(),
  from: plainDate,
  to: plainDate,
  standInId: userId.nullable(),
  standInName: z.string().nullable(),
});

export type Absence = z.infer<typeof absence>;

export const planAbsence = z
  .object({ userId, from: plainDate, to: plainDate, standInId: userId.nullable().default(null) })
  .refine(({ from, to }) => from <= to, {
    path: ['to'],
    message: $localize`must not be before the first day`,
  })
  .refine(({ userId: away, standInId }) => away !== standInId, {
    path: ['standInId'],
    message: $localize`must be somebody else`,
  });

export const colleague = z.object({ id: userId, name: z.string(), role });

export type Colleague = z.infer<typeof colleague>;
