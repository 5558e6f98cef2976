import type { Deal, tickPrompt as ticking } from '@kettle/contract';
import type * as z from 'zod';
import { Problem } from '../../platform/http/problem';
import { bytesOf } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { noteChange } from '../../platform/change-feed/feed';
import type { SignedIn } from '../../records/users/session';
import { todayOf } from '../../records/users/today';
import { tickPrompts } from './change-deal';
import { readDeal } from './deal-rows';
import { lockDeal } from './lock-deal';

/** Ticks a prompt of the stage's brief, or takes the tick away. */
export async function tickPrompt(
  services: Services,
  who: SignedIn,
  dealId: string,
  body: z.output<typeof ticking>,
): Promise<Deal> {
  const { database, clock, feed } = services;
  await database.transaction(async (tx) => {
    const deal = await lockDeal(tx, services, who, { id: dealId, version: body.version, isOpen: true });
    if (!deal.prompts.some(({ id }) => id === body.promptId)) throw new Problem('not-found');
    if (body.isTicked) await tickPrompts(tx, who, deal, [body.promptId], clock.now());
    else
      await tx.change('DELETE FROM prompt_tick WHERE deal_id = :deal AND prompt_id = :prompt', {
        deal: bytesOf(dealId),
        prompt: bytesOf(body.promptId),
      });
    await noteChange(tx, 'deal', dealId, who.id);
  });
  feed.poke();
  return readDeal(database, dealId, todayOf(services, who));
}
