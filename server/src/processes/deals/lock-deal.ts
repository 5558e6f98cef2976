import type { Deal } from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import { Problem } from '../../platform/http/problem';
import { bytesOf } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { assertMayChange } from '../../records/users/rights';
import type { SignedIn } from '../../records/users/session';
import { todayOf } from '../../records/users/today';
import { readDeal } from './deal-rows';

/** Its owner and the team of a deal may change it, managers and admins any. @throws Problem `not-yours` */
export async function assertMayChangeDeal(tx: Queryable, who: SignedIn, deal: Deal): Promise<void> {
  if (deal.team.some(({ id }) => id === who.id)) return;
  await assertMayChange(tx, who, deal.ownerId);
}

/**
 * Locks a deal that is about to be changed and adds one to its version.
 * @throws Problem `not-found`, `not-yours`, `stale` when it was changed, closed or opened since
 */
export async function lockDeal(
  tx: Queryable,
  services: Services,
  who: SignedIn,
  asked: { readonly id: string; readonly version: number; readonly isOpen: boolean },
): Promise<Deal> {
  const id = bytesOf(asked.id);
  await tx.rows('SELECT 1 FROM deal WHERE id = :id FOR UPDATE', { id });
  const deal = await readDeal(tx, asked.id, todayOf(services, who));
  await assertMayChangeDeal(tx, who, deal);
  if (deal.version !== asked.version || (deal.status === 'open') !== asked.isOpen)
    throw new Problem('stale', {}, { current: deal });
  await tx.change('UPDATE deal SET version = version + 1 WHERE id = :id', { id });
  return deal;
}
