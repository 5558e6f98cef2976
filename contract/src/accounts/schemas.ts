import * as z from 'zod';
import { userId } from '../base/ids';
import { emailAddress, instant, line, resolved, version, zoneName } from '../base/values';
import { role } from '../base/words';
import { newPassword } from '../users/schemas';

/** Somebody's account, as an admin sees it. */
export const account = z.object({
  id: userId,
  name: z.string(),
  email: z.string(),
  role,
  managerId: userId.nullable(),
  managerName: z.string().nullable(),
  /** Invited: no password was chosen yet. Deactivated: may not sign in; what they did stays. */
  state: z.enum(['active', 'invited', 'deactivated']),
  hasSecondFactor: z.boolean(),
  /** Made by the demo: its password is known to everybody. */
  isDemo: z.boolean(),
  seenAt: instant.nullable(),
  version: z.int(),
});

export type Account = z.infer<typeof account>;

export const invitePerson = z.object({
  name: line(80),
  email: emailAddress,
  role,
  managerId: userId.nullable().default(null),
  zone: zoneName,
  country: z.string().regex(/^[A-Z]{2}$/, $localize`must be a two-letter country code`),
});

export type InvitePerson = z.output<typeof invitePerson>;

/** A link to choose a password was made: mailed, or, where no mail leaves, for the admin to hand on. */
export const sentLink = z.object({
  account,
  sentTo: z.string().nullable(),
  link: z.string().nullable(),
});

export type SentLink = z.infer<typeof sentLink>;

export const changeAccount = z.object({
  version,
  resolved,
  name: line(80),
  role,
  managerId: userId.nullable(),
});

/** Ends somebody's access. What they own goes to a colleague; people, companies and leads may go to nobody. */
export const deactivate = z.object({ handOverTo: userId.nullable() });

/** What somebody owns, as it would be handed over. */
export const owned = z.object({
  contacts: z.int(),
  companies: z.int(),
  leads: z.int(),
  deals: z.int(),
  tasks: z.int(),
  agreements: z.int(),
  runs: z.int(),
});

export type Owned = z.infer<typeof owned>;

const token = z.string().regex(/^[\w-]{43}$/, $localize`is not a whole link; copy all of it from the mail`);

export const linkToken = z.object({ token });

export const readLink = z.object({
  name: z.string(),
  email: z.string(),
  purpose: z.enum(['invitation', 'reset']),
});

export const choosePassword = linkToken.extend({ password: newPassword });

export const forgotPassword = z.object({ email: emailAddress });

export const changePassword = z.object({
  current: z
    .string()
    .min(1, $localize`must not be empty`)
    .max(200),
  password: newPassword,
});

/** One browser that is signed in. */
export const openSession = z.object({
  id: z.uuid(),
  /** Browser and system, in a few words. */
  device: z.string(),
  since: instant,
  seenAt: instant,
  isThis: z.boolean(),
});

export type OpenSession = z.infer<typeof openSession>;

/** What an authenticator app is given (RFC 6238, SHA-1, 6 digits, 30 seconds). */
export const newSecondFactor = z.object({
  /** Base32, in groups of four. */
  secret: z.string(),
  uri: z.string(),
  /** The same as a picture to scan, SVG. */
  picture: z.string(),
});

export type NewSecondFactor = z.infer<typeof newSecondFactor>;

export const factorCode = z
  .string()
  .trim()
  .min(6, $localize`has six digits`)
  .max(20);
export const proveSecondFactor = z.object({ code: factorCode });
export const recoveryCodes = z.object({ codes: z.array(z.string()) });
export const withPassword = z.object({
  password: z
    .string()
    .min(1, $localize`must not be empty`)
    .max(200),
});

export const myAccount = z.object({
  secondFactor: z.enum(['off', 'on']),
  /** Whether the organisation asks it of one's role. */
  isRequired: z.boolean(),
  recoveryCodesLeft: z.int(),
  sessions: z.array(openSession),
});

export type MyAccount = z.infer<typeof myAccount>;

export const accountsSettings = z.object({
  version: z.int(),
  /** A session ends when nobody used it for so long. */
  idleHours: z.int().min(1).max(168),
  /** And at the latest so long after signing in. */
  absoluteDays: z.int().min(1).max(90),
  /** The least role that must prove itself with a second factor. */
  secondFactorFrom: z.enum(['nobody', 'admin', 'manager', 'rep']),
});

export type AccountsSettings = z.infer<typeof accountsSettings>;

export const changeAccountsSettings = accountsSettings.extend({ resolved });

/** Something that happened to an account or to what it may do; nobody's address or name is kept with it. */
export const securityEvent = z.object({
  id: z.uuid(),
  at: instant,
  kind: z.string(),
  who: z.string().nullable(),
  about: z.string().nullable(),
  /** Tells requests of one address apart from others; the address cannot be read from it. */
  address: z.string().nullable(),
  data: z.record(z.string(), z.union([z.string(), z.number()])),
});

export type SecurityEvent = z.infer<typeof securityEvent>;

export const listSecurityEvents = z.object({
  kind: z.string().max(40).optional(),
  limit: z.coerce.number().int().min(1).max(500).default(100),
});
