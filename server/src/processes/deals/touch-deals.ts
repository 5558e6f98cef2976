import type { ContactId, DealId } from '@kettle/contract';
import { isTouch, touchRuleOf, type TouchPolicy } from '@kettle/core/touch';
import type { Queryable } from '../../platform/database/database';
import { instantOf, sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf, type IdBytes } from '../../platform/ids';
import type { Deriver } from '../../platform/work/work';
import { idBytesOfKey, idOfHex, type Written } from '../../platform/work/written';
import type { Row, Tables } from '../../platform/database/schema.generated';

interface DealTouchRow
  extends
    Row<'deal', 'last_touch_at'>,
    Row<'journal_entry', 'kind' | 'direction' | 'counts' | 'outcome_id'>,
    Row<'standing', 'standing_group'> {
  deal_id: Tables['deal']['id'];
  standing_id: Tables['standing']['id'];
  at: string | null;
}

/** Deals whose journal a unit of work wrote, or that are with somebody whose standing it changed. */
export const deriveDealTouches: Deriver = async (w, written) => {
  const fields = ['at', 'kind', 'direction', 'outcome_id', 'counts', 'deal_id', 'contact_id', 'removed_at'];
  const standings = written.ids('contact', 'id', ['standing_id']);
  const theirs =
    standings.length === 0
      ? []
      : await w.rows<{ id: IdBytes }>(
          'SELECT DISTINCT deal_id AS id FROM journal_entry WHERE contact_id IN (:contacts) AND deal_id IS NOT NULL ORDER BY deal_id',
          { contacts: standings.map((id) => bytesOf(id)) },
        );
  const deals = new Set([
    ...written.ids('journal_entry', 'deal_id', fields),
    ...written.ids('deal', 'id', ['status']),
    ...theirs.map(({ id }) => idOf<string>(id)),
  ]);
  if (deals.size === 0) return;
  const { touchPolicy } = await w.settings();
  const added = addedOnly(written, [
    ...theirs.map(({ id }) => idOf<string>(id)),
    ...written.ids('deal', 'id', ['status']),
  ]);
  const whole = [...deals].filter((id) => !added.deals.has(id));
  await refreshDealTouches(
    w,
    touchPolicy,
    whole.map((id) => bytesOf(id)),
  );
  await refreshDealTouches(
    w,
    touchPolicy,
    [...added.deals].map((id) => bytesOf(id)),
    added.entries,
  );
  for (const id of deals) w.note('deal', id);
};

/** Deals of which nothing was written but entries that were added: only those can be a later touch. */
function addedOnly(
  written: Written,
  also: readonly string[],
): { deals: ReadonlySet<string>; entries: IdBytes[] } {
  const deals = new Set<string>();
  const notOnly = new Set(also);
  const entries: IdBytes[] = [];
  for (const { op, key, refs, was } of written.of('journal_entry')) {
    if (op === 'insert' && refs.deal_id) {
      deals.add(idOfHex(refs.deal_id));
      entries.push(idBytesOfKey(key));
    } else for (const image of [refs, was]) if (image?.deal_id) notOnly.add(idOfHex(image.deal_id));
  }
  for (const id of notOnly) deals.delete(id);
  return { deals, entries };
}

/**
 * Derives the last counting touch of deals that are open or parked, in the transaction that changed the journal: patience
 * counts from it. What counts is said by the standing of whoever each entry is with. Relies on journal_deal.
 * @param added the entries that alone were written: the touch known so far stands beside them, and the journal is not read
 */
export async function refreshDealTouches(
  tx: Queryable,
  policy: TouchPolicy,
  dealIds: readonly IdBytes[],
  added?: readonly IdBytes[],
): Promise<void> {
  if (dealIds.length === 0) return;
  const rows = await tx.rows<DealTouchRow>(
    `SELECT d.id AS deal_id, d.last_touch_at, j.at, j.kind, j.direction, j.counts, j.outcome_id, s.id AS standing_id, s.standing_group
       FROM deal d
       LEFT JOIN (journal_entry j JOIN contact c ON c.id = j.contact_id JOIN standing s ON s.id = c.standing_id)
         ON j.deal_id = d.id AND j.removed_at IS NULL AND j.counts <> 'none' ${added ? 'AND j.id IN (:added)' : ''}
      WHERE d.id IN (:deals) AND d.status IN ('open', 'parked') ORDER BY d.id, j.at, j.id`,
    { deals: dealIds, ...(added ? { added } : {}) },
  );
  const deals = new Map<string, { before: string | null; last: DealTouchRow | null }>();
  for (const row of rows) {
    const id = idOf<string>(row.deal_id);
    const known = deals.get(id) ?? { before: row.last_touch_at, last: null };
    deals.set(id, counts(row, policy) ? { ...known, last: row } : known);
  }
  for (const [id, { before, last }] of deals) {
    const at = last?.at ?? null;
    if (at === before || (added && (at === null || (before !== null && at < before)))) continue;
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

/** Open deals of contacts, the one that closes soonest first. */
export async function openDealsOf(
  db: Queryable,
  contactIds: readonly string[],
): Promise<{ contactId: ContactId; id: DealId; name: string }[]> {
  if (contactIds.length === 0) return [];
  const rows = await db.rows<Row<'deal', 'id' | 'name' | 'contact_id'>>(
    `SELECT id, name, contact_id FROM deal WHERE contact_id IN (:ids) AND status = 'open'
      ORDER BY expected_close_on IS NULL, expected_close_on, id LIMIT 100`,
    { ids: contactIds.map((id) => bytesOf(id)) },
  );
  return rows.map(({ id, name, contact_id }) => ({ contactId: idOf(contact_id!), id: idOf(id), name }));
}

/** The deal that what happens with a contact most likely belongs to: their open one that closes soonest. */
export async function likelyDeal(db: Queryable, contactId: ContactId | string): Promise<DealId | null> {
  return (await openDealsOf(db, [contactId]))[0]?.id ?? null;
}

/** The open deal of a contact who has one; with several somebody has to say which is meant. */
export async function onlyDeal(db: Queryable, contactId: ContactId | string): Promise<DealId | null> {
  const deals = await openDealsOf(db, [contactId]);
  return deals.length === 1 ? deals[0]!.id : null;
}
