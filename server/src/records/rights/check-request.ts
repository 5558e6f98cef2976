import { idsIn } from '@kettle/contract/base/ids-in';
import type { RouteSpec } from '@kettle/contract';
import type { Asked } from '../../platform/http/bind-routes';
import type { Queryable } from '../../platform/database/database';
import { bytesOf, idOf, idOrNull, type IdBytes } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { SignedIn } from '../users/index';
import { notYours } from './may-change';
import { isLimited, ownedTables, reachParameters, withinReach, type Owned, type Use } from './reach-sql';

interface Named {
  readonly path: string;
  readonly kind: Owned;
  readonly id: string;
  readonly use: Use;
}

/**
 * Whether somebody may do what a request asks to every record it names, wherever its id stands. A request that changes something writes onto
 * what it names, but for what its route says it only refers to. Ids of nothing are left to the use case.
 * @throws Problem `not-found` for what may not be read, `not-yours` naming the owner for what may not be changed
 */
export async function checkRequest(
  db: Queryable,
  who: SignedIn,
  spec: RouteSpec & { readonly changes: boolean },
  asked: Asked,
): Promise<void> {
  const named = namedIn(spec, asked);
  for (const use of ['reads', 'changes'] as const) {
    const out = await outOfReach(db, who, use, named);
    if (out === null) continue;
    if (use === 'reads') throw new Problem('not-found');
    throw await notYours(db, out.ownerId, out.path);
  }
}

/** @throws Problem `not-found` where a record of one of these kinds exists that somebody may not read */
export async function assertReadable(
  db: Queryable,
  who: SignedIn,
  id: string,
  kinds: readonly Owned[],
): Promise<void> {
  const named = kinds.map((kind) => ({ path: '', kind, id, use: 'reads' as const }));
  if ((await outOfReach(db, who, 'reads', named)) !== null) throw new Problem('not-found');
}

/** Every id of a request, by what it is for. */
export function namedIn(spec: RouteSpec & { readonly changes: boolean }, asked: Asked): Named[] {
  const named: Named[] = [];
  for (const part of ['params', 'query', 'body'] as const) {
    const schema = spec[part];
    if (schema === undefined) continue;
    for (const { path, kind, id } of idsIn(schema, asked[part]))
      if (kind in ownedTables) {
        const whole = `${part}.${path}`;
        const isReference = (spec.refersTo ?? []).some((each) => isUnder(whole, each));
        const use = spec.changes && !isReference ? 'changes' : 'reads';
        named.push({ path: part === 'body' ? path : whole, kind: kind as Owned, id, use });
      }
  }
  return named;
}

const isUnder = (path: string, prefix: string) =>
  path === prefix ||
  path.startsWith(`${prefix}.`) ||
  path.startsWith(`${prefix}[`) ||
  path.startsWith(`${prefix}{`);

const ownerColumns: Partial<Record<Owned, string>> = {
  entry: 'user_id',
  mail: 'user_id',
  text: 'user_id',
  file: 'user_id',
  phoneCall: 'user_id',
  stirring: 'user_id',
  view: 'user_id',
  import: 'user_id',
  bulk: 'user_id',
  quote: 'user_id',
  invoice: 'user_id',
};

/** The first record that exists and is out of reach; everything a request changes is read too. One statement. */
async function outOfReach(db: Queryable, who: SignedIn, use: Use, named: readonly Named[]) {
  const concerned = named.filter(
    (each) => (use === 'reads' || each.use === use) && isLimited(who, each.kind, use),
  );
  if (concerned.length === 0) return null;
  const kinds = [...new Set(concerned.map(({ kind }) => kind))];
  const parts = kinds.map(
    (kind) =>
      `(SELECT '${kind}' AS kind, r.id, r.${ownerColumns[kind] ?? 'owner_id'} AS owner_id FROM ${ownedTables[kind]} r
         WHERE r.id IN (:${kind}) AND NOT (${withinReach(who, kind, 'r', use)}) LIMIT 1)`,
  );
  const ids = kinds.map(
    (kind) => [kind, concerned.filter((each) => each.kind === kind).map(({ id }) => bytesOf(id))] as const,
  );
  const [row] = await db.rows<{ kind: Owned; id: IdBytes<string>; owner_id: IdBytes<string> | null }>(
    `${parts.join(' UNION ALL ')} LIMIT 1`,
    { ...reachParameters(who, use), ...Object.fromEntries(ids) },
  );
  if (row === undefined) return null;
  const id = idOf<string>(row.id);
  const path = concerned.find((each) => each.kind === row.kind && each.id === id)?.path;
  return { ownerId: idOrNull<string>(row.owner_id), path };
}
