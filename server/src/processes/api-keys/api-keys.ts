import type { ApiKey, ApiKeyId, KeyScope, makeApiKey, madeApiKey, UserId } from '@kettle/contract';
import { keyScopes, mostKeys } from '@kettle/contract';
import type * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { instantOf, instantOrNull, jsonOf, sqlInstant, wholeNumber } from '../../platform/database/values';
import { bytesOf, idOf, newId } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import { work } from '../../platform/work/work';
import { noteSecurity } from '../../records/security/index';
import { newToken, type SignedIn } from '../../records/users/index';

type KeyRow = Row<
  'api_key',
  'id' | 'user_id' | 'name' | 'token_start' | 'made_at' | 'last_on' | 'used_at' | 'withdrawn_at'
> & { readonly scopes: unknown; readonly owner: string };

const keyColumns = `k.id, k.user_id, k.name, k.token_start, k.scopes, k.made_at, k.last_on, k.used_at, k.withdrawn_at, u.name AS owner
  FROM api_key k JOIN app_user u ON u.id = k.user_id`;

const mostListed = 500;

/** Those that count first, then by age; an admin sees everybody’s. */
export async function listKeys({ database, clock }: Services, who: SignedIn): Promise<ApiKey[]> {
  const mine = who.role === 'admin' ? '' : 'AND k.user_id = :user';
  const rows = await database.rows<KeyRow>(
    `SELECT ${keyColumns} WHERE k.token_hash IS NOT NULL ${mine}
      ORDER BY k.withdrawn_at IS NOT NULL, k.user_id <> :user, k.made_at DESC, k.id DESC LIMIT ${mostListed}`,
    { user: bytesOf(who.id) },
  );
  return rows.map((row) => keyOfRow(row, clock.now()));
}

function keyOfRow(row: KeyRow, now: string): ApiKey {
  const isOver = row.last_on !== null && row.last_on < now.slice(0, 10);
  return {
    id: idOf<ApiKeyId>(row.id),
    name: row.name,
    userId: idOf<UserId>(row.user_id),
    owner: row.owner,
    start: row.token_start ?? '',
    scopes: keyScopes.filter((scope) => (jsonOf(row.scopes) as string[]).includes(scope)),
    madeAt: instantOf(row.made_at),
    lastOn: row.last_on,
    usedAt: instantOrNull(row.used_at),
    state: row.withdrawn_at !== null ? 'withdrawn' : isOver ? 'over' : 'counts',
  };
}

const tokenHead = 'kettle_';
const startLength = tokenHead.length + 4;

/**
 * A key of somebody’s own. The same request again, whose first answer was lost, is answered with another token for the same key: the
 * first one was seen by nobody, and is kept nowhere.
 * @throws Problem `too-many-keys`, `invalid-request` for a last day that is over
 */
export async function makeKey(
  services: Services,
  who: SignedIn,
  { name, scopes, lastOn }: Omit<z.output<typeof makeApiKey>, 'password'>,
  address: string | undefined,
): Promise<z.output<typeof madeApiKey>> {
  const id = await work(services, who, async (w) => {
    if (lastOn !== null && lastOn < w.now.slice(0, 10))
      throw new Problem(
        'invalid-request',
        {},
        { fields: [{ path: 'lastOn', message: $localize`is over: choose today or a later day` }] },
      );
    await assertRoom(w, who.id, w.now);
    const made = newId<string>();
    await w.change(
      `INSERT INTO api_key (id, user_id, name, scopes, made_at, last_on) VALUES (:id, :user, :name, :scopes, :now, :lastOn)`,
      {
        ...{ id: bytesOf(made), user: bytesOf(who.id), name, now: sqlInstant(w.now), lastOn },
        scopes: JSON.stringify(withoutReadBesideWrite(scopes)),
      },
    );
    await noteSecurity(w, {
      ...{ kind: 'key-made', userId: who.id, aboutId: who.id, address },
      data: { scopes: withoutReadBesideWrite(scopes).join(' ') },
    });
    return made;
  });
  const { token, hash } = newToken(tokenHead);
  await services.database.change(
    'UPDATE api_key SET token_hash = :hash, token_start = :start WHERE id = :id AND used_at IS NULL',
    { hash, start: token.slice(0, startLength), id: bytesOf(id) },
  );
  return { key: await readKey(services, id), token };
}

/** Whoever may change may read: one of the two says it. */
const withoutReadBesideWrite = (scopes: readonly KeyScope[]): KeyScope[] =>
  keyScopes.filter(
    (scope) =>
      scopes.includes(scope) &&
      !(scope.endsWith(':read') && scopes.includes(scope.replace(':read', ':write') as KeyScope)),
  );

async function assertRoom(db: Queryable, userId: string, now: string): Promise<void> {
  const [row] = await db.rows<{ n: string }>(
    `SELECT COUNT(*) AS n FROM api_key
      WHERE user_id = :user AND withdrawn_at IS NULL AND (last_on IS NULL OR last_on >= DATE(:now))`,
    { user: bytesOf(userId), now: sqlInstant(now) },
  );
  if (wholeNumber(row?.n ?? 0) >= mostKeys) throw new Problem('too-many-keys', { most: mostKeys });
}

async function readKey({ database, clock }: Services, id: string): Promise<ApiKey> {
  const [row] = await database.rows<KeyRow>(`SELECT ${keyColumns} WHERE k.id = :id`, { id: bytesOf(id) });
  if (!row) throw new Problem('not-found');
  return keyOfRow(row, clock.now());
}

/** From now on it opens nothing, and never again. @throws Problem `not-found` for another’s, but to an admin */
export async function withdrawKey(
  services: Services,
  who: SignedIn,
  id: string,
  address: string | undefined,
): Promise<ApiKey> {
  const key = await readKey(services, id);
  if (key.userId !== who.id && who.role !== 'admin') throw new Problem('not-found');
  if (key.state === 'withdrawn') return key;
  await work(services, who, async (w) => {
    await w.change('UPDATE api_key SET withdrawn_at = :now WHERE id = :id', {
      now: sqlInstant(w.now),
      id: bytesOf(id),
    });
    await noteSecurity(w, { kind: 'key-withdrawn', userId: who.id, aboutId: key.userId, address });
  });
  return readKey(services, id);
}
