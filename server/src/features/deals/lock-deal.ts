import type { Deal } from '@kettle/contract';
import type { Queryable } from '../../db/database';
import { Problem } from '../../http/problem';
import { bytesOf } from '../../ids';
import type { Services } from '../../services';
import { assertMayChange } from '../session/rights';
import type { SignedIn } from '../session/session';
import { todayOf } from '../session/today';
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
