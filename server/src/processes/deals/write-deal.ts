import type { ChangeDeal, CreateDeal, DealLineOf } from '@kettle/contract';
import { lineTotals } from '@kettle/core/deals';
import type { Queryable } from '../../platform/database/database';
import { Problem } from '../../platform/problem';
import { bytesOf, newId } from '../../platform/ids';
import { writeCustomValues } from '../../records/fields/index';
import type { Work } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';

type Parts = Pick<
  CreateDeal & Partial<ChangeDeal>,
  'people' | 'lines' | 'competitors' | 'teamIds' | 'custom'
>;

/**
 * Writes what hangs on a deal, as far as it was sent; a part that was not sent stays.
 * @throws Problem `invalid-request` at the part that names somebody or something unknown
 */
export async function writeParts(tx: Work, dealId: string, parts: Parts): Promise<void> {
  const deal = bytesOf(dealId);
  if (parts.people !== undefined) {
    await assertAllThere(
      tx,
      'contact',
      parts.people.map(({ contactId }) => contactId),
      'people',
    );
    const rows = parts.people.map(({ contactId, role }) => [deal, bytesOf(contactId), role]);
    await replace(tx, 'deal_person', ['deal_id', 'contact_id', 'role'], deal, rows);
  }
  if (parts.teamIds !== undefined) {
    await assertAllThere(tx, 'app_user', parts.teamIds, 'teamIds');
    const rows = parts.teamIds.map((id) => [deal, bytesOf(id)]);
    await replace(tx, 'deal_colleague', ['deal_id', 'user_id'], deal, rows);
  }
  if (parts.competitors !== undefined) {
    const rows = parts.competitors.map((name) => [deal, name]);
    await replace(tx, 'deal_competitor', ['deal_id', 'name'], deal, rows);
  }
  if (parts.lines !== undefined) await writeLines(tx, deal, parts.lines);
  if (parts.custom !== undefined) await writeCustomValues(tx, 'deal', dealId, parts.custom);
}

/** Twice the same counts once. */
async function replace(
  tx: Queryable,
  table: string,
  columns: readonly string[],
  deal: Buffer,
  rows: readonly (string | Buffer)[][],
): Promise<void> {
  await tx.change(`DELETE FROM ${table} WHERE deal_id = :deal`, { deal });
  if (rows.length > 0)
    await tx.change(`INSERT IGNORE INTO ${table} (${columns.join(', ')}) VALUES :rows`, { rows });
}

async function writeLines(tx: Queryable, deal: Buffer, lines: readonly DealLineOf[]): Promise<void> {
  await tx.change('DELETE FROM deal_line WHERE deal_id = :deal', { deal });
  if (lines.length === 0) return;
  await tx.change(
    `INSERT INTO deal_line (id, deal_id, position, product_id, name, quantity, price_minor, discount_percent, billing)
     VALUES :rows`,
    {
      rows: lines.map((line, position) => [
        bytesOf(newId()),
        deal,
        position,
        bytesOf(line.productId),
        line.name,
        line.quantity,
        line.priceMinor,
        line.discountPercent,
        line.billing,
      ]),
    },
  );
}

async function assertAllThere(
  tx: Queryable,
  table: 'contact' | 'app_user',
  asked: readonly string[],
  path: string,
): Promise<void> {
  const ids = [...new Set(asked)];
  if (ids.length === 0) return;
  const found = await tx.rows(`SELECT id FROM ${table} WHERE id IN (:ids)`, {
    ids: ids.map((id) => bytesOf(id)),
  });
  if (found.length < ids.length)
    throw new Problem(
      'invalid-request',
      {},
      { fields: [{ path, message: $localize`names somebody who is not here` }] },
    );
}

/** A deal's value: the sum of its lines while it has any, else the amount that was said. */
export function amountOf(lines: readonly DealLineOf[], said: number): number {
  return lines.length === 0 ? said : lineTotals(lines).totalMinor;
}

const mostAncestors = 50;

/** A deal is not its own ancestor. @throws Problem `invalid-request` at `parentId` */
export async function assertParent(tx: Queryable, dealId: string, parentId: string | null): Promise<void> {
  if (parentId === null) return;
  const chain = await tx.rows<Row<'deal', 'id'>>(
    `WITH RECURSIVE above AS (
       SELECT id, parent_id, 1 AS depth FROM deal WHERE id = :parent
       UNION ALL
       SELECT d.id, d.parent_id, a.depth + 1 FROM deal d JOIN above a ON d.id = a.parent_id WHERE a.depth < ${mostAncestors}
     ) SELECT id FROM above`,
    { parent: bytesOf(parentId) },
  );
  const isLoop = chain.some(({ id }) => id.equals(bytesOf(dealId)));
  if (chain.length > 0 && !isLoop && chain.length < mostAncestors) return;
  const message = isLoop
    ? $localize`is this deal itself, or one below it`
    : $localize`is not a deal that can stand above this one`;
  throw new Problem('invalid-request', {}, { fields: [{ path: 'parentId', message }] });
}
