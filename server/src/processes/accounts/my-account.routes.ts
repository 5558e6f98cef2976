import type { EndpointName } from '@kettle/contract';
import { isAtLeast } from '@kettle/core/rights';
import type { Request } from 'express';
import type { Row } from '../../platform/database/schema.generated';
import { instantOf } from '../../platform/database/values';
import type { Handlers } from '../../platform/http/bind-routes';
import { bytesOf, idOf } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import { writingAt } from '../../platform/work/work';
import { noteSecurity, type SecurityKind } from '../../records/security/index';
import {
  assertGoodPassword,
  beginSecondFactor,
  closeSessionsOf,
  countRecoveryCodes,
  hashOfToken,
  hashPassword,
  hasSecondFactor,
  makeLimiters,
  makeRecoveryCodes,
  proveOwnPassword,
  take,
  takeCode,
  tokenOf,
  turnOff,
  turnOn,
  type SignedIn,
} from '../../records/users/index';
import { setPassword } from './account-links';

type Names = Extract<
  EndpointName,
  | 'myAccount'
  | 'changePassword'
  | 'endSession'
  | 'endOtherSessions'
  | 'beginSecondFactor'
  | 'proveSecondFactor'
  | 'endSecondFactor'
  | 'newRecoveryCodes'
>;

const ok = { ok: true } as const;

/** What everybody looks after themselves: password, second factor, where they are signed in. */
export function myAccountRoutes(services: Services): Pick<Handlers, Names> {
  const { database, clock, settings } = services;
  const limiters = makeLimiters(database);

  const isRequired = async (who: SignedIn) => {
    const { secondFactorFrom: from } = (await settings.read(database)).accounts;
    return from !== 'nobody' && isAtLeast(who.role, from);
  };
  const note = (kind: SecurityKind, who: SignedIn, request: Request) =>
    noteSecurity(writingAt(database, clock.now()), {
      kind,
      userId: who.id,
      aboutId: who.id,
      address: request.ip,
    });
  const prove = proveOwnPassword(services);

  return {
    myAccount: async ({ who, request }) => ({
      secondFactor: (await hasSecondFactor(database, who.id)) ? 'on' : 'off',
      isRequired: await isRequired(who),
      recoveryCodesLeft: await countRecoveryCodes(database, who.id),
      sessions: await readSessions(services, who, request),
    }),
    changePassword: async ({ who, body, request }) => {
      await prove(who, body.current);
      await assertGoodPassword(body.password, who);
      await setPassword(database, who.id, await hashPassword(body.password));
      await closeSessionsOf(database, who.id, tokenOf(services, request));
      await note('password-changed', who, request);
      return ok;
    },
    endSession: async ({ who, params, request }) => {
      const ended = await database.change('DELETE FROM session WHERE id = :id AND user_id = :user', {
        id: bytesOf(params.id),
        user: bytesOf(who.id),
      });
      if (ended === 0) throw new Problem('not-found');
      await note('sessions-ended', who, request);
      return ok;
    },
    endOtherSessions: async ({ who, request }) => {
      await closeSessionsOf(database, who.id, tokenOf(services, request));
      await note('sessions-ended', who, request);
      return ok;
    },
    beginSecondFactor: async ({ who }) => {
      if (await hasSecondFactor(database, who.id)) throw new Problem('already-done');
      return beginSecondFactor(database, who);
    },
    proveSecondFactor: async ({ who, body, request }) => {
      await take(limiters.account, who.email);
      if (!(await takeCode(database, who.id, body.code, clock.millis() - clock.ahead())))
        throw new Problem(
          'wrong-code',
          {},
          { fields: [{ path: 'code', message: $localize`does not count` }] },
        );
      await limiters.account.delete(who.email);
      await turnOn(database, who.id, clock.now());
      // Whoever came in without it elsewhere comes in again with it.
      await closeSessionsOf(database, who.id, tokenOf(services, request));
      await note('second-factor-on', who, request);
      return { codes: await makeRecoveryCodes(database, who.id) };
    },
    endSecondFactor: async ({ who, body, request }) => {
      if (await isRequired(who)) throw new Problem('second-factor-needed');
      await prove(who, body.password);
      await turnOff(database, who.id);
      await note('second-factor-off', who, request);
      return ok;
    },
    newRecoveryCodes: async ({ who, body, request }) => {
      if (!(await hasSecondFactor(database, who.id))) throw new Problem('not-found');
      await prove(who, body.password);
      await note('recovery-codes-made', who, request);
      return { codes: await makeRecoveryCodes(database, who.id) };
    },
  };
}

/** Where somebody is signed in; what was used last comes first. */
async function readSessions(services: Services, who: SignedIn, request: Request) {
  const { database, clock, settings } = services;
  const { idleHours } = (await settings.read(database)).accounts;
  const rows = await database.rows<Row<'session', 'id' | 'token_hash' | 'created_at' | 'seen_at' | 'device'>>(
    `SELECT id, token_hash, created_at, seen_at, device FROM session
      WHERE user_id = :user AND expires_at > :now AND seen_at > :now - INTERVAL :idle HOUR
      ORDER BY seen_at DESC, id`,
    { user: bytesOf(who.id), now: clock.now().slice(0, 23).replace('T', ' '), idle: idleHours },
  );
  const own = hashOfToken(tokenOf(services, request) ?? '');
  return rows.map((row) => ({
    id: idOf<string>(row.id),
    device: row.device,
    since: instantOf(row.created_at),
    seenAt: instantOf(row.seen_at),
    isThis: row.token_hash.equals(own),
  }));
}
