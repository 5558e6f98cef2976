import { gridOf } from '../base/grid-fields';
import type { MailRow } from '../mail';
import { mailKindLabel, mailStateLabel } from '../mail/labels';

/** Who a mail is from or to, by name where one is known. */
export const mailWith = (row: MailRow): string =>
  row.direction === 'in' ? row.fromName || row.fromAddress : (row.contactName ?? row.toAddress);

/** Fields of the list of mail, in the order a new view shows them. */
export const mailGridFields = gridOf<MailRow>()({
  with: { name: $localize`from or to`, type: 'text', canSort: true, width: 150, of: mailWith },
  subject: {
    name: $localize`subject`,
    type: 'text',
    canSort: true,
    canGroup: true,
    width: 165,
    of: (row) => row.subject,
  },
  opening: { name: $localize`first words`, type: 'text', width: 260, of: (row) => row.opening },
  at: { name: $localize`when`, type: 'instant', canSort: true, width: 125, of: (row) => row.at },
  address: {
    name: $localize`address`,
    type: 'text',
    canSort: true,
    canGroup: true,
    width: 200,
    of: (row) => (row.direction === 'in' ? row.fromAddress : row.toAddress),
  },
  person: {
    name: $localize`person`,
    type: 'text',
    canSort: true,
    canGroup: true,
    width: 160,
    of: (row) => row.contactName,
  },
  company: {
    name: $localize`company`,
    type: 'text',
    canSort: true,
    canGroup: true,
    of: (row) => row.companyName,
  },
  deal: {
    name: $localize`deal`,
    type: 'text',
    canSort: true,
    canGroup: true,
    width: 160,
    of: (row) => row.dealName,
  },
  kind: {
    name: $localize`kind`,
    type: 'choice',
    choices: Object.keys(mailKindLabel),
    choiceNames: mailKindLabel,
    canSort: true,
    canGroup: true,
    width: 130,
    of: (row) => row.kind,
  },
  state: {
    name: $localize`state`,
    type: 'choice',
    choices: Object.keys(mailStateLabel),
    choiceNames: mailStateLabel,
    canSort: true,
    canGroup: true,
    width: 110,
    of: (row) => row.state,
  },
  said: { name: $localize`what is known`, type: 'text', width: 220, of: (row) => row.said },
  owner: {
    name: $localize`mailbox of`,
    type: 'user',
    canSort: true,
    canGroup: true,
    width: 130,
    of: (row) => row.ownerName,
  },
});

export type MailGridFieldKey = keyof typeof mailGridFields;
