import { createHash, randomBytes } from 'node:crypto';
import type { Person, Role, UserId, WorkingHours } from '@kettle/contract';
import { role as roleSchema, workingHours } from '@kettle/contract';
import type { CookieOptions, Request } from 'express';
import type { Queryable } from '../../platform/database/database';
import { jsonOf, sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf, newId } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import type { Reach } from '@kettle/core/rights';
import { readReach } from '../rights/index';
import type { Row } from '../../platform/database/schema.generated';

/** Who asks, as the session says. */
export interface SignedIn {
  readonly id: UserId;
  readonly name: string;
  readonly email: string;
  readonly role: Role;
  readonly zone: string;
  readonly country: string;
  readonly hours: WorkingHours;
  /** Whose records they may read and change. */
  readonly reach: Reach;
}

export const cookieName = 'kettle_session';
const sessionDays = 14;

interface UserRow extends Row<'app_user', 'id' | 'name' | 'email' | 'role' | 'zone' | 'country' | 'version'> {
  hours: unknown;
}

export const userColumns = 'u.id, u.name, u.email, u.role, u.zone, u.country, u.hours, u.version';

export function personOf(row: UserRow): Person {
  return {
    id: idOf(row.id),
    name: row.name,
    email: row.email,
    role: roleSchema.parse(row.role),
    zone: row.zone,
    country: row.country,
    hours: workingHours.parse(jsonOf(row.hours)),
    version: row.version,
  };
}

/** Opens a session and returns its token; the database keeps only the token's hash. */
export async function openSession({ database, clock }: Services, userId: UserId): Promise<string> {
  const token = randomBytes(32).toString('base64url');
  const expires = new Date(clock.millis() + sessionDays * 86_400_000).toISOString();
  await database.change(
    `INSERT INTO session (token_hash, id, user_id, created_at, seen_at, expires_at)
     VALUES (:hash, :id, :user, :now, :now, :expires)`,
    {
      hash: hashOf(token),
      id: bytesOf(newId()),
      user: bytesOf(userId),
      now: sqlInstant(clock.now()),
      expires: sqlInstant(expires),
    },
  );
  return token;
}

export async function closeSession(db: Queryable, token: string): Promise<void> {
  await db.change('DELETE FROM session WHERE token_hash = :hash', { hash: hashOf(token) });
}

/** The person behind a request's cookie, or null. */
export async function whoIs({ database, clock }: Services, request: Request): Promise<SignedIn | null> {
  const token = tokenOf(request);
  if (token === null) return null;
  const [row] = await database.rows<UserRow & WithRights>(
    `SELECT ${userColumns}, ${rights} FROM session s JOIN app_user u ON u.id = s.user_id
      WHERE s.token_hash = :hash AND s.expires_at > :now`,
    { hash: hashOf(token), now: sqlInstant(clock.now()) },
  );
  return row ? signedInOf(database, row) : null;
}

/** Somebody in whose name a job works. @throws Problem `not-found` */
export async function readSignedIn(db: Queryable, id: UserId): Promise<SignedIn> {
  const [row] = await db.rows<UserRow & WithRights>(
    `SELECT ${userColumns}, ${rights} FROM app_user u WHERE u.id = :id`,
    { id: bytesOf(id) },
  );
  if (!row) throw new Problem('not-found');
  return signedInOf(db, row);
}

const rights = "(SELECT value FROM setting WHERE name = 'rights') AS rights";

interface WithRights {
  readonly rights: string | null;
}

async function signedInOf(db: Queryable, row: UserRow & WithRights): Promise<SignedIn> {
  const { version: _, ...person } = personOf(row);
  return { ...person, reach: await readReach(db, { ...person, rights: row.rights }) };
}

export function tokenOf(request: Request): string | null {
  const found = (request.get('cookie') ?? '').split(/;\s*/).find((part) => part.startsWith(`${cookieName}=`));
  return found ? found.slice(cookieName.length + 1) : null;
}

export function cookieOptions(request: Request): CookieOptions {
  return {
    httpOnly: true,
    sameSite: 'strict',
    secure: request.secure,
    path: '/',
    maxAge: sessionDays * 86_400_000,
  };
}

function hashOf(token: string): Buffer {
  return createHash('sha256').update(token).digest();
}
