import type { ContactId, DealId, Direction, JournalKind, StandingGroup, TouchCount } from '@kettle/contract';
import { isTouch, touchRuleOf, type TouchPolicy } from '@kettle/core/touch';
import type { Queryable } from '../../platform/database/database';
import { instantOf, sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf, type IdBytes } from '../../platform/ids';

interface DealTouchRow {
  deal_id: IdBytes;
  last_touch_at: string | null;
  at: string | null;
  kind: JournalKind;
  direction: Direction | null;
  counts: TouchCount;
  outcome_id: string | null;
  standing_id: IdBytes;
  standing_group: StandingGroup;
}

/**
 * Derives the last counting touch of deals that are open or parked, in the transaction that changed the journal: patience
 * counts from it. What counts is said by the standing of whoever each entry is with. Relies on journal_deal.
 */
export async function refreshDealTouches(
  tx: Queryable,
  policy: TouchPolicy,
  dealIds: readonly IdBytes[],
): Promise<void> {
  const rows = await tx.rows<DealTouchRow>(
    `SELECT d.id AS deal_id, d.last_touch_at, j.at, j.kind, j.direction, j.counts, j.outcome_id, s.id AS standing_id, s.standing_group
       FROM deal d
       LEFT JOIN (journal_entry j JOIN contact c ON c.id = j.contact_id JOIN standing s ON s.id = c.standing_id)
         ON j.deal_id = d.id AND j.removed_at IS NULL AND j.counts <> 'none'
      WHERE d.id IN (:deals) AND d.status IN ('open', 'parked') ORDER BY d.id, j.at, j.id`,
    { deals: dealIds },
  );
  const deals = new Map<string, { before: string | null; last: DealTouchRow | null }>();
  for (const row of rows) {
    const id = idOf<string>(row.deal_id);
    const known = deals.get(id) ?? { before: row.last_touch_at, last: null };
    deals.set(id, counts(row, policy) ? { ...known, last: row } : known);
  }
  for (const [id, { before, last }] of deals) {
    const at = last?.at ?? null;
    if (at === before) continue;
    await tx.change('UPDATE deal SET last_touch_at = :at, last_touch_kind = :kind WHERE id = :id', {
      id: bytesOf(id),
      at: sqlInstant(at === null ? null : instantOf(at)),
      kind: last?.kind ?? null,
    });
  }
}

function counts(row: DealTouchRow, policy: TouchPolicy): boolean {
  if (row.at === null) return false;
  const standing = { id: idOf<string>(row.standing_id), group: row.standing_group };
  const { kind, direction, counts: counted, outcome_id: outcomeId } = row;
  return isTouch({ kind, direction, counts: counted, outcomeId }, touchRuleOf(standing, policy));
}

/** The deal that what happens with a contact most likely belongs to: their open one that closes soonest. */
export async function likelyDeal(db: Queryable, contactId: ContactId | string): Promise<DealId | null> {
  const [row] = await db.rows<{ id: IdBytes }>(
    `SELECT id FROM deal WHERE contact_id = :id AND status = 'open'
      ORDER BY expected_close_on IS NULL, expected_close_on, id LIMIT 1`,
    { id: bytesOf(contactId) },
  );
  return row ? idOf<DealId>(row.id) : null;
}
