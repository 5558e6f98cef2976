import { createHash, randomBytes } from 'node:crypto';
import type { Person, Role, UserId, WorkingHours } from '@kettle/contract';
import { person as personShape, role as roleSchema, workingHours } from '@kettle/contract';
import { isAtLeast, type Reach } from '@kettle/core/rights';
import Bowser from 'bowser';
import * as z from 'zod';
import type { CookieOptions, Request } from 'express';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { instantOf, jsonOf, sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf, newId } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import { readReach } from '../rights/index';
import { settingOf } from '../settings/index';

/** Who asks, as the session says. */
export interface SignedIn {
  readonly id: UserId;
  readonly name: string;
  readonly email: string;
  readonly role: Role;
  readonly zone: string;
  readonly country: string;
  readonly hours: WorkingHours;
  readonly absences: Person['absences'];
  /** Whose records they may read and change. */
  readonly reach: Reach;
  /** The organisation asks for a second factor, and they have none. */
  readonly needsSecondFactor: boolean;
}

export interface UserRow extends Row<
  'app_user',
  'id' | 'name' | 'email' | 'role' | 'zone' | 'country' | 'version'
> {
  hours: unknown;
  absences: unknown;
}

export const userColumns = `u.id, u.name, u.email, u.role, u.zone, u.country, u.hours, u.version,
  (SELECT JSON_ARRAYAGG(JSON_OBJECT('from', a.from_on, 'to', a.to_on)) FROM absence a WHERE a.user_id = u.id) AS absences`;

const absencesShape = personShape.shape.absences;

export function personOf(row: UserRow): Person {
  return {
    id: idOf(row.id),
    name: row.name,
    email: row.email,
    role: roleSchema.parse(row.role),
    zone: row.zone,
    country: row.country,
    hours: workingHours.parse(jsonOf(row.hours)),
    absences: row.absences === null ? [] : absencesShape.parse(jsonOf(row.absences)),
    version: row.version,
  };
}

/** A token, and the hash of it that the database keeps. @param head what it begins with, so that people and scanners know what it is */
export function newToken(head = ''): { readonly token: string; readonly hash: Buffer } {
  const token = head + randomBytes(32).toString('base64url');
  return { token, hash: hashOfToken(token) };
}

export const hashOfToken = (token: string): Buffer => createHash('sha256').update(token).digest();

/** Opens a session and returns its token; the database keeps only the token's hash. */
export async function openSession(
  { database, clock, settings }: Pick<Services, 'database' | 'clock' | 'settings'>,
  userId: UserId,
  device = '',
): Promise<string> {
  const { token, hash } = newToken();
  const { accounts } = await settings.read(database);
  const expires = new Date(clock.millis() + accounts.absoluteDays * 86_400_000).toISOString();
  await database.change(
    `INSERT INTO session (token_hash, id, user_id, created_at, seen_at, expires_at, device)
     VALUES (:hash, :id, :user, :now, :now, :expires, :device)`,
    {
      hash,
      id: bytesOf(newId()),
      user: bytesOf(userId),
      now: sqlInstant(clock.now()),
      expires: sqlInstant(expires),
      device: device.slice(0, 80),
    },
  );
  return token;
}

export async function closeSession(db: Queryable, token: string): Promise<void> {
  await db.change('DELETE FROM session WHERE token_hash = :hash', { hash: hashOfToken(token) });
}

/** Signs somebody out everywhere, but for the browser that a token is of. @returns how many sessions ended */
export function closeSessionsOf(db: Queryable, userId: UserId, exceptToken: string | null): Promise<number> {
  return db.change('DELETE FROM session WHERE user_id = :user AND token_hash <> :hash', {
    user: bytesOf(userId),
    hash: hashOfToken(exceptToken ?? ''),
  });
}

/** A session in use is marked as such so seldom that it costs nothing. */
const markedEveryMillis = 5 * 60_000;

interface SessionColumns extends UserRow, WithSettings {
  seen_at: string;
}

/**
 * The person behind a request's cookie, or null; a session that nobody used for long, or that is old, is none.
 * @param isUse false where nobody did anything: a page that is only open does not keep its session
 */
export async function whoIs(
  services: Pick<Services, 'database' | 'clock' | 'channels'>,
  request: Request,
  { isUse = true }: { readonly isUse?: boolean } = {},
): Promise<SignedIn | null> {
  const { database, clock } = services;
  const token = tokenOf(services, request);
  if (token === null) return null;
  const hash = hashOfToken(token);
  const [row] = await database.rows<SessionColumns>(
    `SELECT ${userColumns}, ${withSettings}, s.seen_at FROM session s JOIN app_user u ON u.id = s.user_id
      WHERE s.token_hash = :hash AND s.expires_at > :now AND u.deactivated_at IS NULL`,
    { hash, now: sqlInstant(clock.now()) },
  );
  if (!row) return null;
  const unusedMillis = clock.millis() - Date.parse(instantOf(row.seen_at));
  if (unusedMillis > accountsOf(row).idleHours * 3_600_000) {
    await closeSession(database, token);
    return null;
  }
  if (isUse && unusedMillis > markedEveryMillis)
    await database.change('UPDATE session SET seen_at = :now WHERE token_hash = :hash', {
      hash,
      now: sqlInstant(clock.now()),
    });
  return signedInOf(database, row);
}

/** Somebody in whose name a job works. @throws Problem `not-found` */
export async function readSignedIn(db: Queryable, id: UserId, now: string): Promise<SignedIn> {
  const [row] = await db.rows<UserRow & WithSettings>(
    `SELECT ${userColumns}, ${withSettings} FROM app_user u WHERE u.id = :id`,
    { id: bytesOf(id), now: sqlInstant(now) },
  );
  if (!row) throw new Problem('not-found');
  return signedInOf(db, row);
}

/** What somebody may do hangs on these settings too; read with the person, so that no request asks twice. */
export const withSettings = `(SELECT value FROM setting WHERE name = 'rights') AS rights,
  (SELECT value FROM setting WHERE name = 'accounts') AS accounts,
  (SELECT JSON_ARRAYAGG(HEX(b.user_id)) FROM absence b
    WHERE b.stand_in_id = u.id AND b.from_on <= DATE(:now) AND b.to_on >= DATE(:now)) AS stands_in,
  EXISTS (SELECT 1 FROM second_factor f WHERE f.user_id = u.id AND f.proven_at IS NOT NULL) AS has_factor`;

export interface WithSettings {
  readonly rights: string | null;
  readonly accounts: string | null;
  readonly has_factor: number;
  /** Ids of those who are away now and whose Round they work. */
  readonly stands_in: unknown;
}

const accountsOf = ({ accounts }: WithSettings) => settingOf('accounts', accounts ?? undefined);

const hexes = z.array(z.string());
const standsInFor = (row: WithSettings): readonly string[] =>
  row.stands_in === null
    ? []
    : hexes.parse(jsonOf(row.stands_in)).map((hex) => idOf(Buffer.from(hex, 'hex')));

export async function signedInOf(db: Queryable, row: UserRow & WithSettings): Promise<SignedIn> {
  const { version: _, ...person } = personOf(row);
  const from = accountsOf(row).secondFactorFrom;
  return {
    ...person,
    reach: await readReach(db, { ...person, rights: row.rights, standsInFor: standsInFor(row) }),
    needsSecondFactor: from !== 'nobody' && isAtLeast(person.role, from) && row.has_factor === 0,
  };
}

export const cookieName = 'kettle_session';

type WithChannels = Pick<Services, 'channels'>;

/** Whether people reach this server by https: then the cookie is secure, and its name makes a browser refuse it from any other host or path. */
export const isHttps = ({ channels }: WithChannels) => channels.publicOrigin.startsWith('https:');

export const sessionCookieName = (services: WithChannels) =>
  isHttps(services) ? `__Host-${cookieName}` : cookieName;

export function tokenOf(services: WithChannels, request: Request): string | null {
  const name = sessionCookieName(services);
  const found = (request.get('cookie') ?? '').split(/;\s*/).find((part) => part.startsWith(`${name}=`));
  return found ? found.slice(name.length + 1) : null;
}

export function cookieOptions(services: WithChannels, days: number): CookieOptions {
  return {
    httpOnly: true,
    sameSite: 'strict',
    secure: isHttps(services),
    path: '/',
    maxAge: days * 86_400_000,
  };
}

/** Browser and system in a few words, as the person knows them by: `Firefox on Linux`. */
export function deviceOf(request: Request): string {
  const { browser, os } = Bowser.parse(request.get('user-agent') ?? ' ');
  return [browser.name, os.name].filter(Boolean).join(' on ') || $localize`an unknown browser`;
}
