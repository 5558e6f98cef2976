import * as z from 'zod';
import { gridCount, gridFilter, gridPage, grouping } from '../base/grid';
import { appointmentId, contactId, dealId, entryId, mailId, taskId, templateId, userId } from '../base/ids';
import { instant, line, resolved, version } from '../base/values';
import { invitationAnswer } from '../calendar/schemas';
import { nextStep } from '../journal';
import { templateChannel } from '../templates';

export const mailState = z.enum([
  'waiting',
  'handing-over',
  'sent',
  'failed',
  'held',
  'withdrawn',
  'unfiled',
  'filed',
  'let-go',
]);

export type MailState = z.infer<typeof mailState>;

/** What a mail that came in is. */
export const mailKind = z.enum(['human', 'automatic', 'out-of-office', 'bounce', 'unsubscribe']);

export type MailKind = z.infer<typeof mailKind>;

/** Shown by its domain, by nothing, or contradicted by its domain. */
export const mailProof = z.enum(['proven', 'unproven', 'contradicted']);

export type MailProof = z.infer<typeof mailProof>;

export const mailRow = z.object({
  id: mailId,
  direction: z.enum(['out', 'in']),
  state: mailState,
  kind: mailKind.nullable(),
  at: instant,
  fromName: z.string(),
  fromAddress: z.string(),
  toAddress: z.string(),
  subject: z.string(),
  /** The first words of its text. */
  opening: z.string(),
  contactId: contactId.nullable(),
  contactName: z.string().nullable(),
  companyName: z.string().nullable(),
  dealId: dealId.nullable(),
  dealName: z.string().nullable(),
  /** Whose mailbox it is in; nobody's while nobody is known for it. */
  ownerId: userId.nullable(),
  ownerName: z.string().nullable(),
  said: z.string().nullable(),
  /** How far it is known that it is from whom it names; null where that is not asked (ours, returns). */
  proof: mailProof.nullable(),
  /** What was checked, and with what result. */
  proofWords: z.string().nullable(),
  version: z.int(),
});

export type MailRow = z.infer<typeof mailRow>;

/** An open deal that a mail may belong to. */
const mailDeal = z.object({ id: dealId, name: z.string() });

/** An invitation that somebody outside sent, as it is now. */
export const receivedInvitation = z.object({
  title: z.string(),
  place: z.string().nullable(),
  startsAt: instant,
  endsAt: instant,
  repeats: z.boolean(),
  /** Whoever invited called it off. */
  isWithdrawn: z.boolean(),
  /** It was answered, and is at another time since. */
  isMoved: z.boolean(),
  answer: invitationAnswer,
  /** The appointment it is here, while that is planned. */
  appointmentId: appointmentId.nullable(),
});

export type ReceivedInvitation = z.infer<typeof receivedInvitation>;

export const answerReceived = z.object({
  answer: z.enum(['accepted', 'tentative', 'declined']),
  /** A word to whoever invited. */
  words: z.string().trim().max(1000).default(''),
});

export const mail = mailRow.extend({
  /** The invitation it brings; null where it brings none, or a later mail tells of it. */
  invitation: receivedInvitation.nullable(),
  text: z.string(),
  /** Sanitised; pictures from elsewhere are taken out. */
  html: z.string().nullable(),
  blockedPictures: z.int(),
  thread: z.array(mailRow),
  /** Who it may be from: the person known by the address or the thread, else people of the same firm. */
  proposed: z.array(
    z.object({
      contactId,
      name: z.string(),
      companyName: z.string().nullable(),
      why: z.string(),
      /** Their open deals, the one that is meant first. */
      deals: z.array(mailDeal),
    }),
  ),
  /** For one that came in and is filed: open deals of its person, the one that is meant first. */
  deals: z.array(mailDeal),
  /** For a held mail: what is known of it. */
  known: z.array(z.string()),
});

export type Mail = z.infer<typeof mail>;

export const mailBox = z.enum(['unfiled', 'held', 'waiting', 'sent', 'filed', 'let-go']);

export type MailBox = z.infer<typeof mailBox>;

/** Which mail a list or a count is about: of a box, with a person, or all there is. */
export const mailQuery = z.object({
  box: mailBox.optional(),
  contactId: contactId.optional(),
  q: z.string().trim().max(100).default(''),
  filter: gridFilter.optional(),
});

export type MailQuery = z.output<typeof mailQuery>;

export const listMail = mailQuery.extend({
  /** Left out, the newest first. */
  ...gridPage,
  limit: z.coerce.number().int().min(1).max(500).default(100),
});

export const mailPage = z.object({ rows: z.array(mailRow) });

export const countMail = mailQuery.extend({ group: grouping.optional() });

export const mailCount = gridCount.extend({
  /** How many each box holds, whatever is shown. */
  counts: z.record(mailBox, z.int()),
});

export type MailCount = z.infer<typeof mailCount>;

/** A mail or text to be written: to whom, under which template, in which thread. */
export const draftMail = z.object({
  channel: templateChannel.default('email'),
  contactId,
  dealId: dealId.optional(),
  taskId: taskId.optional(),
  templateId: templateId.optional(),
  answers: mailId.optional(),
});

export const mailDraft = z.object({
  to: z.string().nullable(),
  /** Why nothing can be sent to them, when nothing can. */
  blocked: z.string().nullable(),
  templateId: templateId.nullable(),
  subject: z.string(),
  body: z.string(),
  missing: z.array(z.string()),
  templates: z.array(z.object({ id: templateId, name: z.string() })),
  answers: mailId.nullable(),
});

export type MailDraft = z.infer<typeof mailDraft>;

/** A mail or text written by hand: it is logged with its next step in the same moment. */
export const sendByHand = z.object({
  /** Made by the caller: the same one twice sends once. It is the journal entry's id too. */
  id: entryId,
  contactId,
  dealId: dealId.nullable().default(null),
  taskId: taskId.nullable().default(null),
  templateId: templateId.nullable().default(null),
  subject: z.string().trim().max(300).default(''),
  body: z
    .string()
    .trim()
    .min(1, $localize`must not be empty`)
    .max(20_000),
  answers: mailId.nullable().default(null),
  next: nextStep,
});

export const sendMail = sendByHand.extend({ subject: line(300) });

export const fileMail = z.object({
  version,
  contactId,
  /** Left out, the person's open deal when they have just one. */
  dealId: dealId.nullable().optional(),
  /** Keeps the address with the person, for the next time. */
  keepAddress: z.boolean().default(true),
});

/** The deal that a filed mail belongs to, or none. */
export const putMailWithDeal = z.object({ version, dealId: dealId.nullable() });

export const overMail = z.object({ version });

/** Several mails at once: dismissed, brought back among those to file, or filed with one person. */
export const moveMail = z.discriminatedUnion('to', [
  z.object({ to: z.enum(['let-go', 'unfiled']), ids: z.array(mailId).min(1).max(500) }),
  z.object({ to: z.literal('filed'), ids: z.array(mailId).min(1).max(500), contactId }),
]);

export type MoveMail = z.output<typeof moveMail>;

/** How many are where they were asked to be, and how many stayed: they were not in a box it can be done from. */
export const movedMail = z.object({ moved: z.int(), left: z.int() });

export const decideHeld = z.object({ version, as: z.enum(['arrived', 'send-again']) });

/** How mail goes out; the addresses of servers are settings of the installation, not of these. */
export const mailSettings = z.object({
  dailyLimit: z.int().min(1).max(2000),
  paceSeconds: z.int().min(0).max(3600),
  tracksOpens: z.boolean(),
  tracksClicks: z.boolean(),
  /** Seconds a mail written by hand waits, so that it can be undone. */
  graceSeconds: z.int().min(0).max(600),
});

export type MailSettings = z.infer<typeof mailSettings>;

export const storedMailSettings = mailSettings.extend({ version: z.int() });

export const changeMailSettings = storedMailSettings.extend({ resolved });

export const addMailFile = z.object({ name: z.string().trim().min(1).max(200) });

/** Whether it was here already, byte for byte. */
export const addedMailFile = z.object({ isNew: z.boolean() });
