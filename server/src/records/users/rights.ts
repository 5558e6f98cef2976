import type { UserId } from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import { bytesOf } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { SignedIn } from './session';
import type { Row } from '../../platform/database/schema.generated';

/** A rep changes what is theirs or nobody's; managers and admins change everything. Everybody may read. */
export function mayChange(who: SignedIn, ownerId: string | null): boolean {
  return who.role !== 'rep' || ownerId === null || ownerId === who.id;
}

/** @throws Problem `not-yours` naming the owner. */
export async function assertMayChange(db: Queryable, who: SignedIn, ownerId: string | null): Promise<void> {
  if (mayChange(who, ownerId)) return;
  const [owner] = await db.rows<Row<'app_user', 'name'>>('SELECT name FROM app_user WHERE id = :id', {
    id: bytesOf(ownerId),
  });
  throw new Problem('not-yours', { owner: owner?.name ?? 'a colleague' });
}

/** Whose day is looked at: one's own, or for managers and admins anybody's. @throws Problem `not-allowed` */
export function dayOwner(who: SignedIn, asked: UserId | undefined): UserId {
  if (asked === undefined || asked === who.id) return who.id;
  if (who.role === 'rep') throw new Problem('not-allowed');
  return asked;
}
