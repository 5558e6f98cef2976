import * as z from 'zod';
import { userId } from '../base/ids';
import { byId, ok, type RouteSpec } from '../base/route';
import {
  account,
  accountsSettings,
  changeAccount,
  changeAccountsSettings,
  changePassword,
  choosePassword,
  deactivate,
  forgotPassword,
  invitePerson,
  linkToken,
  listSecurityEvents,
  myAccount,
  newSecondFactor,
  owned,
  proveSecondFactor,
  readLink,
  recoveryCodes,
  securityEvent,
  sentLink,
  withPassword,
} from './schemas';

const ofPerson = byId.extend({ id: userId });

export const accountsRoutes = {
  listAccounts: {
    access: 'manager',
    summary: 'Everybody who signs in, or did',
    reply: z.object({ accounts: z.array(account) }),
  },
  invitePerson: {
    access: 'admin',
    summary: 'Add a person, who chooses their own password by a link',
    body: invitePerson,
    reply: sentLink,
  },
  changeAccount: {
    access: 'admin',
    summary: 'Change somebody’s name, role or manager',
    params: ofPerson,
    body: changeAccount,
    reply: account,
  },
  sendLink: {
    access: 'admin',
    summary: 'Send a link to choose a password: an invitation again, or a reset',
    params: ofPerson,
    reply: sentLink,
  },
  readOwned: {
    access: 'admin',
    summary: 'What somebody owns, before it is handed over',
    params: ofPerson,
    reply: owned,
  },
  deactivate: {
    access: 'admin',
    summary: 'End somebody’s access and hand over what they own',
    params: ofPerson,
    body: deactivate,
    reply: account,
  },
  reactivate: { access: 'admin', summary: 'Let somebody sign in again', params: ofPerson, reply: account },
  resetSecondFactor: {
    access: 'admin',
    summary: 'Take away the second factor of somebody who lost it',
    params: ofPerson,
    reply: account,
  },
  removeDemoAccounts: {
    access: 'admin',
    summary: 'End the demo’s accounts, whose password everybody knows; I get what they own',
    reply: z.object({ removed: z.int() }),
  },
  readLink: { access: 'anyone', summary: 'Whose link this is', body: linkToken, reply: readLink },
  choosePassword: {
    access: 'anyone',
    summary: 'Choose a password by a link',
    body: choosePassword,
    reply: ok,
  },
  forgotPassword: {
    access: 'anyone',
    summary: 'Send a link to whoever forgot their password',
    body: forgotPassword,
    reply: ok,
  },
  myAccount: {
    access: 'rep',
    summary: 'My second factor and where I am signed in',
    beforeSecondFactor: true,
    reply: myAccount,
  },
  changePassword: { access: 'rep', summary: 'Change my password', body: changePassword, reply: ok },
  endSession: { access: 'rep', summary: 'Sign out one browser', params: byId, reply: ok },
  endOtherSessions: { access: 'rep', summary: 'Sign out every browser but this', reply: ok },
  beginSecondFactor: {
    access: 'rep',
    summary: 'A new second factor, to be proven before it counts',
    beforeSecondFactor: true,
    reply: newSecondFactor,
  },
  proveSecondFactor: {
    access: 'rep',
    summary: 'Prove the new second factor by its first code',
    beforeSecondFactor: true,
    body: proveSecondFactor,
    reply: recoveryCodes,
  },
  endSecondFactor: { access: 'rep', summary: 'Do without a second factor', body: withPassword, reply: ok },
  newRecoveryCodes: {
    access: 'rep',
    summary: 'New recovery codes; the old ones no longer count',
    body: withPassword,
    reply: recoveryCodes,
  },
  accountsSettings: { access: 'rep', summary: 'How long sessions last', reply: accountsSettings },
  changeAccountsSettings: {
    access: 'admin',
    summary: 'Change how long sessions last and who needs a second factor',
    body: changeAccountsSettings,
    reply: accountsSettings,
  },
  listSecurityEvents: {
    access: 'admin',
    summary: 'What happened to accounts and rights, newest first',
    query: listSecurityEvents,
    reply: z.object({ events: z.array(securityEvent), kinds: z.array(z.string()) }),
  },
} as const satisfies Record<string, RouteSpec>;
