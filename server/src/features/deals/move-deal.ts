import type { Deal, moveDeal as moving } from '@kettle/contract';
import type * as z from 'zod';
import { sqlInstant } from '../../db/values';
import { Problem } from '../../http/problem';
import { bytesOf } from '../../ids';
import type { Services } from '../../services';
import { noteChange } from '../changes/feed';
import { assertMayChange } from '../session/rights';
import type { SignedIn } from '../session/session';
import { todayOf } from '../session/today';
import { readDeal } from './deal-rows';
import { assertStage, noteStageChange } from './stages';

/** Puts an open deal into another stage or month; either is a real change and starts its patience anew. */
export async function moveDeal(
  services: Services,
  who: SignedIn,
  dealId: string,
  to: z.output<typeof moving>,
): Promise<Deal> {
  const { database, clock, feed } = services;
  const now = clock.now();
  await database.transaction(async (tx) => {
    const before = await readDeal(tx, dealId, todayOf(services, who));
    await assertMayChange(tx, who, before.ownerId);
    await assertStage(tx, to.stageId);
    const changed = await tx.change(
      `UPDATE deal SET moved_at = :now, stage_since = IF(stage_id <> :stage, :now, stage_since), stage_id = :stage,
              expected_close_on = :close, version = version + 1
        WHERE id = :id AND version = :version AND status = 'open'`,
      {
        id: bytesOf(dealId),
        version: to.version,
        stage: bytesOf(to.stageId),
        close: to.expectedCloseOn,
        now: sqlInstant(now),
      },
    );
    if (changed === 0) throw new Problem('stale', {}, { current: before });
    await noteStageChange(tx, who, before, to.stageId, now);
    await noteChange(tx, 'deal', dealId, who.id);
  });
  feed.poke();
  return readDeal(database, dealId, todayOf(services, who));
}
