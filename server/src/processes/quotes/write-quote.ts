import type { ChangeQuote, DealId, QuoteId, QuoteLine } from '@kettle/contract';
import { addDays, localDate } from '@kettle/core/time';
import type { Queryable } from '../../platform/database/database';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf, newId } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import { mergeChange, type FieldsAt } from '../../platform/work/merge-change';
import type { PersonWork } from '../../platform/work/work';
import { assertMayChange } from '../../records/rights/index';
import { readAt } from '../../records/users/index';
import { readDeal } from '../deals/index';
import { readLines, readQuoteRow, type QuoteRow } from './quote-rows';

/** Locks a quote that is about to be changed. @throws Problem `not-found`, `not-yours`, `stale` when it is in another state by now */
export async function lockQuote(
  w: PersonWork,
  id: string,
  states: readonly QuoteRow['state'][],
): Promise<QuoteRow> {
  await w.rows('SELECT 1 FROM quote WHERE id = :id FOR UPDATE', { id: bytesOf(id) });
  const row = await readQuoteRow(w, id);
  await assertMayChange(w, w.who, idOf(row.owner_id));
  if (!states.includes(row.state)) throw new Problem('stale', {}, { current: { state: row.state } });
  return row;
}

/** The same of one that was not changed since it was seen. @throws Problem `stale` */
export async function lockSeen(
  w: PersonWork,
  { id, version }: { readonly id: string; readonly version: number },
  states: readonly QuoteRow['state'][],
): Promise<QuoteRow> {
  const row = await lockQuote(w, id, states);
  if (row.version !== version) throw new Problem('stale', {}, { current: { version: row.version } });
  return row;
}

/** A draft from what the deal has: its product lines, or one line of its value. */
export async function createQuote(w: PersonWork, dealId: DealId): Promise<QuoteId> {
  const deal = await readDeal(w, dealId, readAt(w.services, w.who));
  await assertMayChange(w, w.who, deal.ownerId);
  const { selling } = await w.settings();
  const id = newId<QuoteId>();
  await w.change(
    `INSERT INTO quote (id, deal_id, user_id, state, currency, name, intro, closing, valid_until, created_at)
     VALUES (:id, :deal, :me, 'draft', :currency, :name, :intro, :closing, :until, :now)`,
    {
      ...{ id: bytesOf(id), deal: bytesOf(dealId), me: bytesOf(w.who.id), currency: deal.currency },
      ...{ name: deal.name.slice(0, 120), intro: selling.intro, closing: selling.closing },
      until: addDays(localDate(w.now, w.who.zone), selling.validDays),
      now: sqlInstant(w.now),
    },
  );
  const { taxPercent } = selling;
  const offered = { taxPercent, isOptional: false };
  const whole = {
    productId: null,
    name: deal.name,
    quantity: 1,
    priceMinor: deal.amountMinor,
    discountPercent: 0,
  };
  await writeLines(
    w,
    id,
    deal.lines.length > 0
      ? deal.lines.map((line) => ({ ...line, ...offered }))
      : [{ ...whole, billing: 'once', ...offered }],
  );
  w.say($localize`Quote for ${deal.name}:name: drafted`);
  return id;
}

const fields: FieldsAt<ChangeQuote> = {
  title: { column: 'name' },
  intro: { column: 'intro' },
  closing: { column: 'closing' },
  validUntil: { column: 'valid_until' },
  lines: { rows: 'quote_line', of: 'quote_id' },
};

/** Changes a draft, field by field. @throws Problem `stale` when it is out by now, or another changed the same field */
export async function changeQuote(w: PersonWork, id: QuoteId, asked: ChangeQuote): Promise<void> {
  const row = await lockQuote(w, id, ['draft']);
  const lines = (await readLines(w, [row.id])).get(id) ?? [];
  const record = {
    ...{ id, version: row.version, title: row.name, intro: row.intro, closing: row.closing },
    validUntil: row.valid_until,
    lines: lines.map(({ isChosen: _, netMinor: __, ...line }) => line),
  };
  const body = await mergeChange(w, { table: 'quote', id, fields, asked, record });
  await w.change(
    `UPDATE quote SET name = :title, intro = :intro, closing = :closing, valid_until = :until, version = version + 1 WHERE id = :id`,
    {
      ...{ id: row.id, title: body.title, intro: body.intro, closing: body.closing, until: body.validUntil },
    },
  );
  await writeLines(w, id, body.lines);
  w.say($localize`Quote “${body.title}:title:” changed`);
}

async function writeLines(db: Queryable, id: QuoteId, lines: readonly QuoteLine[]): Promise<void> {
  const quote = bytesOf(id);
  await db.change('DELETE FROM quote_line WHERE quote_id = :quote', { quote });
  if (lines.length === 0) return;
  await db.change(
    `INSERT INTO quote_line (id, quote_id, position, product_id, name, quantity, price_minor, discount_percent, tax_percent, billing,
        is_optional) VALUES :rows`,
    {
      rows: lines.map((line, position) => [
        ...[bytesOf(newId()), quote, position, bytesOf(line.productId), line.name, line.quantity],
        ...[line.priceMinor, line.discountPercent, line.taxPercent, line.billing, line.isOptional ? 1 : 0],
      ]),
    },
  );
}

/** @throws Problem `in-use` for one that has its number: what was sent stays */
export async function removeQuote(w: PersonWork, id: QuoteId): Promise<void> {
  const row = await lockQuote(w, id, ['draft']);
  if (row.number !== null)
    throw new Problem('in-use', { what: row.name, where: $localize`its number, which is given for good` });
  for (const table of ['quote_line', 'quote_question', 'quote_version'])
    await w.change(`DELETE FROM ${table} WHERE quote_id = :id`, { id: row.id });
  await w.change('DELETE FROM quote WHERE id = :id', { id: row.id });
  w.say($localize`Quote “${row.name}:title:” deleted`);
}
