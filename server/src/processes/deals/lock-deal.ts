import type { Deal } from '@kettle/contract';
import { Problem } from '../../platform/problem';
import { bytesOf } from '../../platform/ids';
import { readAt, type SignedIn } from '../../records/users/index';
import { assertMayChange, mayChange } from '../../records/rights/index';
import { readDeal } from './deal-rows';
import { type PersonWork } from '../../platform/work/work';

/** Its owner and the team of a deal may change it, managers and admins any. */
export const mayChangeDeal = (who: SignedIn, deal: Pick<Deal, 'ownerId' | 'team'>): boolean =>
  deal.team.some(({ id }) => id === who.id) || mayChange(who, deal.ownerId);

/** The same, said aloud. @throws Problem `not-yours` */
export async function assertMayChangeDeal(
  w: Pick<PersonWork, 'rows' | 'change' | 'who'>,
  deal: Deal,
): Promise<void> {
  if (deal.team.some(({ id }) => id === w.who.id)) return;
  await assertMayChange(w, w.who, deal.ownerId);
}

/**
 * Locks a deal that is about to be changed and adds one to its version; what others changed of it meanwhile is for the caller to merge.
 * @throws Problem `not-found`, `not-yours`, `stale` when it was closed or opened since
 */
export async function lockDeal(
  w: PersonWork,
  asked: { readonly id: string; readonly isOpen: boolean },
): Promise<Deal> {
  const id = bytesOf(asked.id);
  await w.rows('SELECT 1 FROM deal WHERE id = :id FOR UPDATE', { id });
  const deal = await readDeal(w, asked.id, readAt(w.services, w.who));
  await assertMayChangeDeal(w, deal);
  if ((deal.status === 'open') !== asked.isOpen) throw new Problem('stale', {}, { current: deal });
  await w.change('UPDATE deal SET version = version + 1 WHERE id = :id', { id });
  return deal;
}
