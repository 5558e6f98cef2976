import type { tickPrompt as ticking } from '@kettle/contract';
import type * as z from 'zod';
import { Problem } from '../../platform/problem';
import { bytesOf } from '../../platform/ids';
import {} from '../../records/users/index';
import { tickPrompts } from './change-deal';
import { lockDeal } from './lock-deal';
import type { PersonWork } from '../../platform/work/work';

/** Ticks a prompt of the stage's brief, or takes the tick away. */
export async function tickPrompt(
  w: PersonWork,
  dealId: string,
  body: z.output<typeof ticking>,
): Promise<void> {
  const deal = await lockDeal(w, { id: dealId, isOpen: true });
  if (!deal.prompts.some(({ id }) => id === body.promptId)) throw new Problem('not-found');
  if (body.isTicked) await tickPrompts(w, deal, [body.promptId]);
  else
    await w.change('DELETE FROM prompt_tick WHERE deal_id = :deal AND prompt_id = :prompt', {
      deal: bytesOf(dealId),
      prompt: bytesOf(body.promptId),
    });
}
