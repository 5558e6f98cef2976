import type { Person } from '@kettle/contract';
import { verify } from '@node-rs/argon2';
import { RateLimiterMySQL, RateLimiterRes } from 'rate-limiter-flexible';
import type { Database } from '../../platform/database/database';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import { hashPassword } from './users';
import { personOf, userColumns } from './session';
import type { Row } from '../../platform/database/schema.generated';

const windowSeconds = 15 * 60;

/** Counts tries in the database, so that they count over all servers: per address and e-mail, and per address alone. */
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
  return { person: make('sign-in', 10), address: make('sign-in-address', 100) };
}
export type Limiters = ReturnType<typeof makeLimiters>;

/** A hash to compare with when nobody has the address, so that both answers take the same time. */
const nobody = hashPassword('nobody has this password');

/** @throws Problem `wrong-sign-in`, or `too-many-tries` with the seconds to wait. */
export async function signIn(
  { database }: Services,
  limiters: Limiters,
  credentials: { email: string; password: string; address: string },
): Promise<Person> {
  const email = credentials.email.toLowerCase();
  const key = `${credentials.address} ${email}`;
  await take(limiters.address, credentials.address);
  await take(limiters.person, key);
  const [row] = await database.rows<Parameters<typeof personOf>[0] & Row<'app_user', 'password_hash'>>(
    `SELECT ${userColumns}, u.password_hash FROM app_user u WHERE u.email = :email`,
    { email },
  );
  const matches = await verify(row?.password_hash ?? (await nobody), credentials.password);
  if (!row || !matches) throw new Problem('wrong-sign-in');
  await limiters.person.delete(key);
  return personOf(row);
}

async function take(limiter: RateLimiterMySQL, key: string): Promise<void> {
  try {
    await limiter.consume(key);
  } catch (refusal) {
    if (!(refusal instanceof RateLimiterRes)) throw refusal;
    throw new Problem('too-many-tries', { seconds: Math.ceil(refusal.msBeforeNext / 1000) });
  }
}
