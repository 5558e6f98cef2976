import type { Queryable } from '../../platform/database/database';
import type { Person, UserId } from '@kettle/contract';
import { verify } from '@node-rs/argon2';
import { RateLimiterMySQL, RateLimiterRes } from 'rate-limiter-flexible';
import type { Database } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { bytesOf } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import { writingAt } from '../../platform/work/work';
import { noteSecurity } from '../security/index';
import { hashPassword } from './passwords';
import { hasSecondFactor, takeCode, takeRecoveryCode } from './second-factor';
import { personOf, userColumns } from './session';

const windowSeconds = 15 * 60;

/**
 * Counts tries in the database, so that they count over all servers: per account and address together, per account from wherever (a guess
 * spread over many addresses), and per address alone (one that tries many accounts).
 */
export function makeLimiters(database: Database) {
  const make = (keyPrefix: string, points: number) =>
    new RateLimiterMySQL({
      storeClient: database.pool.pool,
      dbName: database.name,
      tableName: 'rate_limit',
      tableCreated: true,
      keyPrefix,
      points,
      duration: windowSeconds,
    });
  return {
    person: make('sign-in', 10),
    account: make('sign-in-account', 40),
    address: make('sign-in-address', 100),
    /** Links to choose a password that anybody may ask for. */
    link: make('account-link', 5),
  };
}
export type Limiters = ReturnType<typeof makeLimiters>;

/** A hash to compare with when nobody has the address, so that both answers take the same time. */
const nobody = hashPassword('nobody has this password');

export interface Credentials {
  readonly email: string;
  readonly password: string;
  readonly code?: string | undefined;
  readonly address: string;
  /** Browser and system, as a person knows them. */
  readonly device: string;
}

/** @throws Problem `wrong-sign-in`, `code-needed`, `wrong-code`, or `too-many-tries` with the seconds to wait. */
export async function signIn(
  services: Services,
  limiters: Limiters,
  { password, code, address, device, ...asked }: Credentials,
): Promise<Person> {
  const { database, clock } = services;
  const email = asked.email.toLowerCase();
  const key = `${address} ${email}`;
  await take(limiters.address, address);
  await take(limiters.account, email);
  await take(limiters.person, key);
  const [row] = await database.rows<
    Parameters<typeof personOf>[0] & Row<'app_user', 'password_hash' | 'deactivated_at'>
  >(`SELECT ${userColumns}, u.password_hash, u.deactivated_at FROM app_user u WHERE u.email = :email`, {
    email,
  });
  const matches = await verify(row?.password_hash ?? (await nobody), password);
  const refuse = async (problem: Problem, why: string) => {
    await noteSecurity(writingAt(database, clock.now()), {
      kind: 'sign-in-refused',
      userId: null,
      aboutId: row ? personOf(row).id : null,
      address,
      data: { why },
    });
    return problem;
  };
  if (!row || row.password_hash === null || row.deactivated_at !== null || !matches)
    throw await refuse(new Problem('wrong-sign-in'), row ? 'password' : 'unknown');
  const person = personOf(row);
  if (await hasSecondFactor(database, person.id)) {
    if (code === undefined || code === '') throw new Problem('code-needed');
    if (!(await provesItself(services, person.id, code)))
      throw await refuse(
        new Problem('wrong-code', {}, { fields: [{ path: 'code', message: $localize`does not count` }] }),
        'code',
      );
  }
  await limiters.person.delete(key);
  await limiters.account.delete(email);
  await noteSecurity(writingAt(database, clock.now()), {
    kind: 'signed-in',
    userId: person.id,
    address,
    data: { device, isNew: (await isNewDevice(database, person.id, device)) ? 1 : 0 },
  });
  return person;
}

/** Whether they signed in before, and never from such a browser; of what came before the log tells 400 days. */
async function isNewDevice(db: Queryable, id: UserId, device: string): Promise<boolean> {
  const [row] = await db.rows<{ known: string | null; before: string | null }>(
    `SELECT SUM(JSON_VALUE(data, '$.device') = :device) AS known, COUNT(*) AS \`before\`
       FROM security_event WHERE kind = 'signed-in' AND user_id = :id`,
    { id: bytesOf(id), device },
  );
  return Number(row?.before) > 0 && Number(row?.known) === 0;
}

/** By the app's code of now, or by a recovery code, which is used up. */
async function provesItself({ database, clock }: Services, id: UserId, code: string): Promise<boolean> {
  const realMillis = clock.millis() - clock.ahead();
  if (await takeCode(database, id, code, realMillis)) return true;
  if (!(await takeRecoveryCode(database, id, code))) return false;
  await noteSecurity(writingAt(database, clock.now()), { kind: 'recovery-code-used', userId: id });
  return true;
}

/** @throws Problem `wrong-password` */
export async function assertPassword({ database }: Services, id: UserId, password: string): Promise<void> {
  const [row] = await database.rows<Row<'app_user', 'password_hash'>>(
    'SELECT password_hash FROM app_user WHERE id = :id',
    { id: bytesOf(id) },
  );
  if (!(await verify(row?.password_hash ?? (await nobody), password))) throw new Problem('wrong-password');
}

/** Whether somebody who is signed in knows their own password. A guess at that of an open browser counts as one at the door. */
export function proveOwnPassword(services: Services) {
  const { account } = makeLimiters(services.database);
  return async (who: { readonly id: UserId; readonly email: string }, password: string): Promise<void> => {
    await take(account, who.email);
    await assertPassword(services, who.id, password);
    await account.delete(who.email);
  };
}

/** Counts one try. @throws Problem `too-many-tries` */
export async function take(limiter: RateLimiterMySQL, key: string): Promise<void> {
  try {
    await limiter.consume(key);
  } catch (refusal) {
    if (!(refusal instanceof RateLimiterRes)) throw refusal;
    throw new Problem('too-many-tries', { seconds: Math.ceil(refusal.msBeforeNext / 1000) });
  }
}
