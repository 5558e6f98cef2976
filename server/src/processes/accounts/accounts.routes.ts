import type { EndpointName, UserId } from '@kettle/contract';
import type { Handlers } from '../../platform/http/bind-routes';
import type { Services } from '../../platform/services';
import { work, writingAt, type PersonWork } from '../../platform/work/work';
import { noteSecurity } from '../../records/security/index';
import { changeSetting } from '../../records/settings/index';
import { makeLimiters, take, turnOff, type SignedIn } from '../../records/users/index';
import { choosePassword, readLink, sendLink, sendResetTo } from './account-links';
import { changeAccount, deactivate, invitePerson, reactivate, removeDemoAccounts } from './change-accounts';
import { listSecurityEvents } from './list-security-events';
import { readAccount, readAccounts, readOwned } from './read-accounts';

type Names = Extract<
  EndpointName,
  | 'listAccounts'
  | 'invitePerson'
  | 'changeAccount'
  | 'sendLink'
  | 'readOwned'
  | 'deactivate'
  | 'reactivate'
  | 'resetSecondFactor'
  | 'removeDemoAccounts'
  | 'readLink'
  | 'choosePassword'
  | 'forgotPassword'
  | 'accountsSettings'
  | 'changeAccountsSettings'
  | 'listSecurityEvents'
>;

const ok = { ok: true } as const;

/** People who sign in, as admins look after them, and the links by which they choose their passwords. */
export function accountsRoutes(services: Services): Pick<Handlers, Names> {
  const { database, settings } = services;
  const limiters = makeLimiters(database);
  const changing = async (who: SignedIn, id: UserId, run: (w: PersonWork) => Promise<void>) => {
    await work(services, who, run);
    return readAccount(database, id);
  };
  return {
    listAccounts: async () => ({ accounts: await readAccounts(database) }),
    invitePerson: async ({ who, body }) => {
      const id = await work(services, who, (w) => invitePerson(w, body));
      await noteSecurity(writingAt(database, services.clock.now()), {
        kind: 'link-sent',
        userId: who.id,
        aboutId: id,
        data: { for: 'invitation' },
      });
      return sendLink(services, id, 'invitation');
    },
    changeAccount: ({ who, params: { id }, body }) => changing(who, id, (w) => changeAccount(w, id, body)),
    sendLink: async ({ who, params: { id } }) => {
      const { state } = await readAccount(database, id);
      const purpose = state === 'invited' ? 'invitation' : 'reset';
      await noteSecurity(writingAt(database, services.clock.now()), {
        kind: 'link-sent',
        userId: who.id,
        aboutId: id,
        data: { for: purpose },
      });
      return sendLink(services, id, purpose);
    },
    readOwned: ({ params }) => readOwned(database, params.id),
    deactivate: ({ who, params: { id }, body }) => changing(who, id, (w) => deactivate(w, id, body)),
    reactivate: ({ who, params: { id } }) => changing(who, id, (w) => reactivate(w, id)),
    resetSecondFactor: ({ who, params: { id } }) =>
      changing(who, id, async (w) => {
        await turnOff(w, id);
        await noteSecurity(w, { kind: 'second-factor-off', userId: who.id, aboutId: id });
      }),
    removeDemoAccounts: async ({ who }) => ({ removed: await work(services, who, removeDemoAccounts) }),
    readLink: async ({ body, request }) => {
      await take(limiters.address, request.ip ?? 'unknown');
      const { name, email, purpose } = await readLink(services, body.token);
      return { name, email, purpose };
    },
    choosePassword: async ({ body, request }) => {
      await take(limiters.address, request.ip ?? 'unknown');
      await choosePassword(services, body);
      return ok;
    },
    forgotPassword: async ({ body, request }) => {
      const address = request.ip ?? 'unknown';
      await take(limiters.link, body.email.toLowerCase());
      await take(limiters.address, address);
      // Answered before it is done: how long it takes would tell whether somebody has the address.
      void sendResetTo(services, body.email, address).catch((error: unknown) =>
        services.log.error({ err: error }, 'a link to choose a password was not sent'),
      );
      return ok;
    },
    accountsSettings: async () => (await settings.read(database)).accounts,
    changeAccountsSettings: async ({ who, body }) => {
      const saved = await changeSetting(services, who, { name: 'accounts', body });
      await noteSecurity(writingAt(database, services.clock.now()), {
        kind: 'settings-changed',
        userId: who.id,
        data: { setting: 'accounts' },
      });
      return saved;
    },
    listSecurityEvents: ({ query }) => listSecurityEvents(database, query),
  };
}
