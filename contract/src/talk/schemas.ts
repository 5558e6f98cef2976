import * as z from 'zod';
import { agreementId, companyId, contactId, dealId, leadId, talkId, userId } from '../base/ids';
import { instant, line } from '../base/values';

/** Kinds of records that colleagues talk about. */
export const talkAbout = z.object({
  contactId: contactId.optional(),
  companyId: companyId.optional(),
  dealId: dealId.optional(),
  leadId: leadId.optional(),
  agreementId: agreementId.optional(),
});

export type TalkAbout = z.output<typeof talkAbout>;

const isOne = (about: TalkAbout) =>
  [about.contactId, about.companyId, about.dealId, about.leadId, about.agreementId].filter(Boolean).length ===
  1;
const oneRecord = { message: $localize`is about exactly one record`, path: ['contactId'] };

export const listTalk = talkAbout.refine(isOne, oneRecord);

export const talkMessage = z.object({
  id: talkId,
  userId,
  userName: z.string(),
  at: instant,
  body: z.string(),
  isMine: z.boolean(),
});

export type TalkMessage = z.infer<typeof talkMessage>;

/** Oldest first; of a long talk the last two hundred. */
export const talk = z.object({ messages: z.array(talkMessage), earlier: z.int() });

export const writeTalk = talkAbout
  .extend({
    /** Made by the browser: sent twice it is written once. */
    id: talkId,
    body: line(2000),
  })
  .refine(isOne, oneRecord);

export type WriteTalk = z.output<typeof writeTalk>;
