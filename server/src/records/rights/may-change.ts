import type { UserId } from '@kettle/contract';
import type { Reach } from '@kettle/core/rights';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { bytesOf } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { SignedIn } from '../users/index';

const isWithin = (reach: Reach['reads'], ownerId: string) => reach === 'everybody' || reach.has(ownerId);

/** Whether somebody may change what belongs to an owner: their own, nobody's, and that of the people they lead. */
export function mayChange(who: SignedIn, ownerId: string | null): boolean {
  return ownerId === null || ownerId === who.id || isWithin(who.reach.changes, ownerId);
}

/** @throws Problem `not-yours` naming the owner. */
export async function assertMayChange(db: Queryable, who: SignedIn, ownerId: string | null): Promise<void> {
  if (!mayChange(who, ownerId)) throw await notYours(db, ownerId);
}

/** The refusal, with the owner's name. */
export async function notYours(db: Queryable, ownerId: string | null, path?: string): Promise<Problem> {
  const [owner] = await db.rows<Row<'app_user', 'name'>>('SELECT name FROM app_user WHERE id = :id', {
    id: bytesOf(ownerId),
  });
  const name = owner?.name ?? $localize`a colleague`;
  const fields =
    path === undefined ? {} : { fields: [{ path, message: $localize`belongs to ${name}:name:` }] };
  return new Problem('not-yours', { owner: name }, fields);
}

/** Whose day is looked at: one's own, or that of somebody one leads. @throws Problem `not-allowed` */
export function dayOwner(who: SignedIn, asked: UserId | undefined): UserId {
  if (asked === undefined || asked === who.id) return who.id;
  if (!isWithin(who.reach.changes, asked)) throw new Problem('not-allowed');
  return asked;
}
