import type { Stage } from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import { sqlInstant, wholeNumber } from '../../platform/database/values';
import { bytesOf, idOf } from '../../platform/ids';
import { readDeal } from './deal-rows';
import { enter, leave } from './stages';
import { writeSystemEntry } from '../../records/entries/index';
import { readAt } from '../../records/users/index';
import { type PersonWork } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';

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
export async function moveDealsTo(w: PersonWork, from: Stage, to: Stage): Promise<number> {
  const now = w.now;
  const rows = await w.rows<Row<'deal', 'id'>>(
    "SELECT id FROM deal WHERE stage_id = :from AND status IN ('open', 'parked') ORDER BY id FOR UPDATE",
    { from: bytesOf(from.id) },
  );
  for (const row of rows) {
    const deal = await readDeal(w, idOf(row.id), readAt(w.services, w.who));
    const { id: dealId, contactId, companyId } = deal;
    if (deal.status === 'open') await leave(w, deal, $localize`the stage ${from.name}:name: went`);
    await w.change(
      'UPDATE deal SET stage_id = :to, notches = 0, stage_since = :now, version = version + 1 WHERE id = :id',
      {
        id: row.id,
        to: bytesOf(to.id),
        now: sqlInstant(now),
      },
    );
    if (deal.status === 'open') await enter(w, deal, to);
    await writeSystemEntry(w, {
      body: `${from.name} → ${to.name}`,
      dealId,
      contactId,
      companyId,
      userId: w.who.id,
    });
  }
  return rows.length;
}
