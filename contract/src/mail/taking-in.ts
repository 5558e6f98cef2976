import * as z from 'zod';
import { companyId, contactId, dealId, leadId, userId } from '../base/ids';
import { line, plainDate, version } from '../base/values';
import { channel } from '../base/words';
import { createContact, otherPoint } from '../contacts';
import { createDeal } from '../deals';
import { similarContact } from '../duplicates';

const said = z.string().nullable();

/** A field of somebody known that a mail of theirs says otherwise. */
export const mailDifference = z.object({
  field: z.enum(['jobTitle', 'familyName', 'companyName', 'phone']),
  /** What a number is for. */
  label: said,
  now: said,
  said: z.string(),
});

export type MailDifference = z.infer<typeof mailDifference>;

/** What a mail tells of whoever wrote it. */
export const mailWriter = z.object({
  givenName: said,
  familyName: said,
  jobTitle: said,
  email: z.string(),
  phone: said,
  otherPoints: z.array(otherPoint),
  country: z.string(),
  companyName: said,
  street: said,
  postcode: said,
  city: said,
  website: said,
  /** Companies it may be, the likeliest first. */
  companies: z.array(z.object({ id: companyId, name: z.string(), city: said, why: z.string() })),
  /** Who it may be already. */
  like: z.array(similarContact),
  /** For one that is filed: where the person's record says something else. */
  differs: z.array(mailDifference),
  /** Of that person, over which it is taken. */
  contactVersion: z.int().nullable(),
});

export type MailWriter = z.infer<typeof mailWriter>;

/** What is taken over from a mail into the record of its person. */
export const takeFromMail = z.object({
  contactVersion: version,
  take: z.array(mailDifference).min(1).max(10),
});

const place = z.object({
  street: z.string().trim().max(160).nullable(),
  postcode: z.string().trim().max(20).nullable(),
  city: z.string().trim().max(80).nullable(),
  website: z.string().trim().max(200).nullable(),
});

/** A next step for oneself or, named, a colleague. */
const followUp = z.object({
  channel,
  purpose: line(200),
  dueOn: plainDate,
  minutes: z.int().min(1).max(480).default(6),
  ownerId: userId.nullable().default(null),
});

const taken = { version, person: createContact, place, task: followUp.nullable() };

/** Somebody new of a mail that is not filed: alone, with a lead, or with their firm and a deal, and what comes next. */
export const takeMailIn = z.discriminatedUnion('as', [
  z.object({ as: z.literal('person'), ...taken }),
  z.object({ as: z.literal('lead'), ...taken, subject: line(160) }),
  z.object({ as: z.literal('deal'), ...taken, deal: createDeal.omit({ contactId: true, next: true }) }),
]);

export type TakeMailIn = z.output<typeof takeMailIn>;

export const takenIn = z.object({ contactId, leadId: leadId.nullable(), dealId: dealId.nullable() });
