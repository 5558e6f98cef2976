import type { EndpointName, KeyArea, KeyScope } from '@kettle/contract';
import { endpoints, keyAreaLabel, keyScopes, keyUsesPerHour, opens, placeOf } from '@kettle/contract';
import type { Request } from 'express';
import * as z from 'zod';
import type { Database } from '../../platform/database/database';
import { instantOf, jsonOf, sqlInstant } from '../../platform/database/values';
import type { IdBytes } from '../../platform/ids';
import { idOf } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import { limiterOf } from './limit-use';
import {
  hashOfToken,
  signedInOf,
  userColumns,
  withSettings,
  type SignedIn,
  type UserRow,
  type WithSettings,
} from './session';
import { take } from './sign-in';

/** What a request says to be its key (RFC 6750, 2.1); null for a browser, which has a session. */
export function keyOf(request: Request): string | null {
  const [, token] = /^Bearer +(\S+)$/i.exec(request.get('authorization') ?? '') ?? [];
  return token ?? (request.get('authorization') === undefined ? null : '');
}

/** As seldom as sessions are: a key in use costs no write with each request. */
const markedEveryMillis = 5 * 60_000;

interface KeyRow extends UserRow, WithSettings {
  key_id: IdBytes<string>;
  scopes: unknown;
  used_at: string | null;
}

const scopesShape = z.array(z.enum(keyScopes as [KeyScope, ...KeyScope[]]));

/**
 * The person whose key a request came with. It may do what they may, as far as its scopes go; a cookie beside it counts for nothing.
 * @throws Problem `key-not-valid`, `key-not-enough` naming the scope, `key-not-here`, `too-many-tries`
 */
export function whoHoldsKey(services: Pick<Services, 'database' | 'clock'>) {
  const { database, clock } = services;
  const limiter = limiterOf(database, 'api-key', keyUsesPerHour);
  return async (request: Request, name: EndpointName): Promise<SignedIn> => {
    const hash = hashOfToken(keyOf(request) ?? '');
    const [row] = await database.rows<KeyRow>(
      `SELECT ${userColumns}, ${withSettings}, k.id AS key_id, k.scopes, k.used_at
         FROM api_key k JOIN app_user u ON u.id = k.user_id
        WHERE k.token_hash = :hash AND k.withdrawn_at IS NULL AND (k.last_on IS NULL OR k.last_on >= DATE(:now))
          AND u.deactivated_at IS NULL`,
      { hash, now: sqlInstant(clock.now()) },
    );
    if (!row) throw new Problem('key-not-valid');
    const id = idOf<string>(row.key_id);
    await take(limiter, id);
    assertOpens(scopesShape.parse(jsonOf(row.scopes)), name);
    await markUsed(database, row, clock.millis(), clock.now());
    return signedInOf(database, row);
  };
}

function assertOpens(scopes: readonly KeyScope[], name: EndpointName): void {
  const place = placeOf(name);
  if (place === 'open') return;
  if (place === 'never') throw new Problem('key-not-here');
  const way = endpoints[name].startsWith('GET ') ? 'read' : 'write';
  if (!opens(scopes, place, way)) throw new Problem('key-not-enough', { scope: scopeWords(place, way) });
}

const scopeWords = (area: KeyArea, way: 'read' | 'write') =>
  way === 'read'
    ? $localize`${keyAreaLabel[area]}:area:: read`
    : $localize`${keyAreaLabel[area]}:area:: read and change`;

async function markUsed(db: Database, row: KeyRow, nowMillis: number, now: string): Promise<void> {
  if (row.used_at !== null && nowMillis - Date.parse(instantOf(row.used_at)) < markedEveryMillis) return;
  await db.change('UPDATE api_key SET used_at = :now WHERE id = :id', {
    now: sqlInstant(now),
    id: row.key_id,
  });
}
