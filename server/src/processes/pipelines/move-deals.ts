import type { Stage } from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import { sqlInstant, wholeNumber } from '../../platform/database/values';
import { bytesOf, idOf, type IdBytes } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { noteChange } from '../../platform/change-feed/feed';
import { readDeal } from '../deals/deal-rows';
import { enter, leave } from '../deals/stages';
import { refreshNextSteps } from '../../activity/touch/next-steps';
import { writeSystemEntry } from '../../activity/journal/write-entry';
import type { SignedIn } from '../../records/users/session';
import { todayOf } from '../../records/users/today';

/** Open and parked deals of stages: those that need a home when a stage goes. */
export async function countDealsIn(tx: Queryable, stageIds: readonly string[]): Promise<number> {
  const [row] = await tx.rows<{ count: string }>(
    "SELECT COUNT(*) AS count FROM deal WHERE stage_id IN (:ids) AND status IN ('open', 'parked')",
    { ids: stageIds.map((id) => bytesOf(id)) },
  );
  return wholeNumber(row?.count ?? 0);
}

/**
 * Every open and parked deal of a stage goes to another. The admin decides it, so what the stage asks for is not asked;
 * patience does not start again, as nothing happened with the customer.
 */
export async function moveDealsTo(
  tx: Queryable,
  services: Services,
  who: SignedIn,
  from: Stage,
  to: Stage,
): Promise<number> {
  const now = services.clock.now();
  const rows = await tx.rows<{ id: IdBytes }>(
    "SELECT id FROM deal WHERE stage_id = :from AND status IN ('open', 'parked') ORDER BY id FOR UPDATE",
    { from: bytesOf(from.id) },
  );
  for (const row of rows) {
    const deal = await readDeal(tx, idOf(row.id), todayOf(services, who));
    const { id: dealId, contactId, companyId } = deal;
    if (deal.status === 'open') await leave({ tx, services, who, now }, deal, `the stage ${from.name} went`);
    await tx.change(
      'UPDATE deal SET stage_id = :to, stage_since = :now, version = version + 1 WHERE id = :id',
      {
        id: row.id,
        to: bytesOf(to.id),
        now: sqlInstant(now),
      },
    );
    if (deal.status === 'open') await enter({ tx, services, who, now }, deal, to);
    await writeSystemEntry(tx, {
      body: `${from.name} → ${to.name}`,
      dealId,
      contactId,
      companyId,
      userId: who.id,
      now,
    });
    await refreshNextSteps(tx, { contactIds: [contactId], dealIds: [dealId] }, now);
    await noteChange(tx, 'deal', dealId, who.id);
  }
  return rows.length;
}
