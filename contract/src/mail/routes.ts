import { gridExport } from '../base/grid';
import { mailId } from '../base/ids';
import { byId, nothing, type RouteSpec } from '../base/route';
import { contact } from '../contacts';
import { logged } from '../journal';
import {
  changeMailSettings,
  countMail,
  decideHeld,
  draftMail,
  answerReceived,
  fileMail,
  listMail,
  mail,
  mailCount,
  mailDraft,
  mailPage,
  mailQuery,
  mailRow,
  movedMail,
  moveMail,
  overMail,
  putMailWithDeal,
  sendMail,
  storedMailSettings,
} from './schemas';
import { mailWriter, takeFromMail, takeMailIn, takenIn } from './taking-in';

export const mailRoutes = {
  listMail: { access: 'rep', summary: 'Mail by box', query: listMail, reply: mailPage },
  countMail: {
    access: 'rep',
    summary: 'How much mail a view finds, whole, by group and by box',
    query: countMail,
    reply: mailCount,
  },
  exportMail: {
    access: 'rep',
    perHour: 30,
    summary: 'Mail of a view as CSV or XLSX: the columns named, in order',
    query: mailQuery.extend(gridExport(mailId)),
    reply: nothing,
  },
  moveMail: {
    access: 'rep',
    summary: 'Dismiss, bring back or file several mails at once',
    body: moveMail,
    reply: movedMail,
  },
  draftMail: { access: 'rep', summary: 'A mail to be written', query: draftMail, reply: mailDraft },
  sendMail: {
    access: 'rep',
    perHour: 240,
    summary: 'Send a mail and log it with its next step',
    body: sendMail,
    refersTo: ['body.answers'],
    reply: logged,
  },
  getMail: { access: 'rep', summary: 'One mail', params: byId.extend({ id: mailId }), reply: mail },
  fileMail: {
    access: 'rep',
    summary: 'File a mail with a person',
    params: byId.extend({ id: mailId }),
    body: fileMail,
    reply: mailRow,
  },
  getMailWriter: {
    access: 'rep',
    summary: 'What a mail tells of whoever wrote it',
    params: byId.extend({ id: mailId }),
    reply: mailWriter,
  },
  takeFromMail: {
    access: 'rep',
    summary: 'Take over into a person what their mail says of them',
    params: byId.extend({ id: mailId }),
    body: takeFromMail,
    reply: contact,
  },
  takeMailIn: {
    access: 'rep',
    summary: 'Make a person, a lead or a deal of a mail, and file it there',
    params: byId.extend({ id: mailId }),
    body: takeMailIn,
    reply: takenIn,
  },
  putMailWithDeal: {
    access: 'rep',
    summary: 'Say which deal a filed mail belongs to',
    params: byId.extend({ id: mailId }),
    body: putMailWithDeal,
    reply: mailRow,
  },
  letMailGo: {
    access: 'rep',
    summary: 'Let a mail go that belongs to nobody here',
    params: byId.extend({ id: mailId }),
    body: overMail,
    reply: mailRow,
  },
  unfileMail: {
    access: 'rep',
    summary: 'Take a mail back among those not filed',
    params: byId.extend({ id: mailId }),
    body: overMail,
    reply: mailRow,
  },
  answerReceived: {
    access: 'rep',
    summary: 'Answer the invitation that a mail brings; whoever invited is told by mail',
    params: byId.extend({ id: mailId }),
    body: answerReceived,
    reply: mail,
  },
  decideHeld: {
    access: 'rep',
    summary: 'Decide a mail of which nobody knows whether it arrived',
    params: byId.extend({ id: mailId }),
    body: decideHeld,
    reply: mailRow,
  },
  mailSettings: { access: 'rep', summary: 'How mail goes out', reply: storedMailSettings },
  changeMailSettings: {
    access: 'admin',
    summary: 'Change how mail goes out',
    body: changeMailSettings,
    reply: storedMailSettings,
  },
} as const satisfies Record<string, RouteSpec>;
