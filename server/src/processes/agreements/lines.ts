import type { AgreementDetail, agreementLine } from '@kettle/contract';
import { lineMinor } from '@kettle/core/deals';
import type * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { wholeNumber } from '../../platform/database/values';
import { bytesOf, idOrNull, newId } from '../../platform/ids';
import type { PersonWork } from '../../platform/work/work';

type Line = z.output<typeof agreementLine>;

/** What was bought, line by line, in place of what was there. */
export async function writeLines(w: PersonWork, agreementId: string, lines: readonly Line[]): Promise<void> {
  const agreement = bytesOf(agreementId);
  await w.change('DELETE FROM agreement_line WHERE agreement_id = :agreement', { agreement });
  for (const [position, line] of lines.entries())
    await w.change(
      `INSERT INTO agreement_line (id, agreement_id, position, product_id, name, quantity, price_minor, discount_percent, billing)
       VALUES (:id, :agreement, :position, :product, :name, :quantity, :price, :discount, :billing)`,
      {
        ...{ id: bytesOf(newId()), agreement, position, product: bytesOf(line.productId) },
        ...{ name: line.name, quantity: line.quantity, price: line.priceMinor },
        ...{ discount: line.discountPercent, billing: line.billing },
      },
    );
}

type LineRow = Row<
  'agreement_line',
  'product_id' | 'name' | 'quantity' | 'price_minor' | 'discount_percent' | 'billing'
>;

const lineOf = (row: LineRow) => {
  const line = {
    quantity: Number(row.quantity),
    priceMinor: wholeNumber(row.price_minor),
    discountPercent: Number(row.discount_percent),
    billing: row.billing,
  };
  const productId = idOrNull<NonNullable<Line['productId']>>(row.product_id);
  return { productId, name: row.name, ...line, totalMinor: lineMinor(line) };
};

export async function readLines(db: Queryable, agreementId: string): Promise<AgreementDetail['lines']> {
  const rows = await db.rows<LineRow>(
    `SELECT product_id, name, quantity, price_minor, discount_percent, billing FROM agreement_line
      WHERE agreement_id = :id ORDER BY position, id`,
    { id: bytesOf(agreementId) },
  );
  return rows.map(lineOf);
}

/** What of a deal goes on year by year. */
export async function readYearlyLinesOfDeal(db: Queryable, dealId: string): Promise<Line[]> {
  const rows = await db.rows<LineRow>(
    `SELECT product_id, name, quantity, price_minor, discount_percent, billing FROM deal_line
      WHERE deal_id = :id AND billing = 'yearly' ORDER BY position, id`,
    { id: bytesOf(dealId) },
  );
  return rows.map((row) => {
    const { totalMinor: _, ...line } = lineOf(row);
    return line;
  });
}
