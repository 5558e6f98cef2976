import type { CreateInvoice, CreditInvoice, InvoiceId } from '@kettle/contract';
import { lineMinor } from '@kettle/core/deals';
import { counts, offeredTotals } from '@kettle/core/quotes';
import { localDate } from '@kettle/core/time';
import { sqlInstant } from '../../platform/database/values';
import type { Row } from '../../platform/database/schema.generated';
import { bytesOf, idOf, idOrNull, newId } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { PersonWork } from '../../platform/work/work';
import { writeSystemEntry } from '../../records/entries/index';
import { assertMayChange } from '../../records/rights/index';
import { readAt } from '../../records/users/index';
import { readDeal } from '../deals/index';
import { nextNumber, readQuoteLines } from '../quotes/index';
import type { InvoiceContent } from './content';
import { contentOf, credited, invoiceNumber, readInvoiceRow, sumsOf, type InvoiceRow } from './invoice-rows';
import { dropAsking } from './overdue';

type Issued = Omit<InvoiceContent, 'number'>;

const refuse = (path: string, message: string) =>
  new Problem('invalid-request', {}, { fields: [{ path, message }] });

/**
 * Asks a customer to pay what a quote that was accepted comes to, or the deal's lines. It has its number at once, and is never changed.
 * @throws Problem `not-found`, `not-yours`, `already-exists` for a quote with an invoice that was not credited, `invalid-request` at what is missing
 */
export async function createInvoice(
  w: PersonWork,
  { dealId, quoteId, issuedOn, dueOn }: CreateInvoice,
): Promise<InvoiceId> {
  await w.rows('SELECT 1 FROM deal WHERE id = :id FOR UPDATE', { id: bytesOf(dealId) });
  const deal = await readDeal(w, dealId, readAt(w.services, w.who));
  await assertMayChange(w, w.who, deal.ownerId);
  if (issuedOn > localDate(w.now, w.who.zone)) throw refuse('issuedOn', $localize`must not be ahead`);
  const { organisation, selling } = await w.settings();
  const lines =
    quoteId === null ? linesOf(deal, selling.taxPercent) : await acceptedLines(w, quoteId, dealId);
  if (lines.length === 0) throw refuse('dealId', $localize`has nothing to be paid`);
  const [company] = await w.rows<Row<'company', 'name' | 'street' | 'postcode' | 'city' | 'country'>>(
    'SELECT co.name, co.street, co.postcode, co.city, co.country FROM company co JOIN deal d ON d.company_id = co.id WHERE d.id = :id',
    { id: bytesOf(dealId) },
  );
  const [person] = await w.rows<Row<'contact', 'display_name' | 'company_name' | 'country'>>(
    'SELECT c.display_name, c.company_name, c.country FROM contact c JOIN deal d ON d.contact_id = c.id WHERE d.id = :id',
    { id: bytesOf(dealId) },
  );
  const { taxes, ...sums } = offeredTotals(lines);
  return issue(w, {
    ...{
      dealId: bytesOf(dealId),
      quoteId: bytesOf(quoteId),
      creditOfId: null,
      contactId: deal.contactId,
      companyId: deal.companyId,
    },
    content: {
      ...{ kind: 'invoice', title: deal.name, issuedOn, dueOn, currency: deal.currency },
      seller: {
        ...{
          name: organisation.name,
          street: selling.street,
          postcode: selling.postcode,
          city: selling.city,
        },
        ...{
          country: organisation.homeCountry,
          vatId: selling.vatId,
          email: selling.email,
          payment: selling.payment,
        },
      },
      customer: {
        name: company?.name ?? person?.company_name ?? person?.display_name ?? deal.name,
        ...{ street: company?.street ?? '', postcode: company?.postcode ?? '', city: company?.city ?? '' },
        ...{ country: company?.country ?? person?.country ?? organisation.homeCountry, vatId: '', email: '' },
      },
      person: person?.display_name ?? '',
      lines: lines.map(({ name, quantity, priceMinor, discountPercent, taxPercent, billing, ...line }) => ({
        ...{ name, quantity, priceMinor, discountPercent, taxPercent, billing },
        netMinor: lineMinor({ quantity, priceMinor, discountPercent, billing, ...line }),
      })),
      totals: { ...sums, taxes: [...taxes] },
      ...{ creditOf: null, reason: null },
    },
  });
}

type DealLines = Awaited<ReturnType<typeof readDeal>>;

function linesOf({ lines, name, amountMinor }: DealLines, taxPercent: number) {
  const offered = { taxPercent, isOptional: false, isChosen: false };
  if (lines.length > 0)
    return lines.map(({ name: what, quantity, priceMinor, discountPercent, billing }) => ({
      ...{ name: what, quantity, priceMinor, discountPercent, billing, ...offered },
    }));
  if (amountMinor === 0) return [];
  return [
    { name, quantity: 1, priceMinor: amountMinor, discountPercent: 0, billing: 'once' as const, ...offered },
  ];
}

/** What was taken of a quote. */
async function acceptedLines(w: PersonWork, quoteId: string, dealId: string) {
  const [quote] = await w.rows<Row<'quote', 'state' | 'deal_id' | 'name'>>(
    'SELECT state, deal_id, name FROM quote WHERE id = :id FOR UPDATE',
    { id: bytesOf(quoteId) },
  );
  if (quote === undefined || idOf<string>(quote.deal_id) !== dealId) throw new Problem('not-found');
  if (quote.state !== 'accepted') throw refuse('quoteId', $localize`was not accepted`);
  const [known] = await w.rows<Row<'invoice', 'kind' | 'number'>>(
    `SELECT i.kind, i.number FROM invoice i WHERE i.quote_id = :id AND i.kind = 'invoice' AND ${credited} < i.total_minor LIMIT 1`,
    { id: bytesOf(quoteId) },
  );
  if (known !== undefined) throw new Problem('already-exists', { what: invoiceNumber(known) });
  return (await readQuoteLines(w, quoteId)).filter(counts);
}

interface ToIssue {
  readonly content: Issued;
  readonly dealId: Buffer;
  readonly quoteId: Buffer | null;
  readonly creditOfId: Buffer | null;
  readonly contactId: string | null;
  readonly companyId: string | null;
}

async function issue(
  w: PersonWork,
  { content: issued, dealId, quoteId, creditOfId, contactId, companyId }: ToIssue,
): Promise<InvoiceId> {
  const { kind } = issued;
  const number = await nextNumber(w, kind);
  const content: InvoiceContent = { ...issued, number: invoiceNumber({ kind, number }) };
  const id = newId<InvoiceId>();
  await w.change(
    `INSERT INTO invoice (id, kind, number, deal_id, quote_id, credit_of_id, user_id, name, customer, currency, issued_on, due_on, content,
        total_minor, reason, created_at)
     VALUES (:id, :kind, :number, :deal, :quote, :of, :me, :name, :customer, :currency, :issuedOn, :dueOn, :content, :total, :reason, :now)`,
    {
      ...{
        id: bytesOf(id),
        kind,
        number,
        deal: dealId,
        quote: quoteId,
        of: creditOfId,
        me: bytesOf(w.who.id),
      },
      ...{
        name: content.title.slice(0, 160),
        customer: content.customer.name.slice(0, 250),
        currency: content.currency,
      },
      ...{ issuedOn: content.issuedOn, dueOn: content.dueOn, content: JSON.stringify(content) },
      ...{ total: content.totals.totalMinor, reason: content.reason, now: sqlInstant(w.now) },
    },
  );
  w.note('invoice', id);
  const words =
    kind === 'credit'
      ? $localize`Credit note ${content.number}:number: issued`
      : $localize`Invoice ${content.number}:number: issued`;
  await writeSystemEntry(w, {
    body: words,
    userId: w.who.id,
    dealId: idOf<string>(dealId as never),
    contactId,
    companyId,
  });
  w.say(words);
  return id;
}

/** Takes all of an invoice back by a note of its own. @throws Problem `stale` for one that is credited already */
export async function creditInvoice(
  w: PersonWork,
  id: InvoiceId,
  { reason, issuedOn }: CreditInvoice,
): Promise<InvoiceId> {
  const row = await lockInvoice(w, id);
  const { totalMinor, creditedMinor } = sumsOf(row);
  if (row.kind === 'credit' || creditedMinor >= totalMinor)
    throw new Problem('stale', {}, { current: { state: 'credited' } });
  if (issuedOn < row.issued_on)
    throw refuse('issuedOn', $localize`must not be before the day of the invoice`);
  if (issuedOn > localDate(w.now, w.who.zone)) throw refuse('issuedOn', $localize`must not be ahead`);
  await dropAsking(w, row, $localize`the invoice was credited`);
  const invoice = contentOf(row);
  return issue(w, {
    ...{ dealId: row.deal_id, quoteId: null, creditOfId: row.id },
    ...{ contactId: idOrNull<string>(row.contact_id), companyId: idOrNull<string>(row.company_id) },
    content: {
      ...{ ...invoice, kind: 'credit', issuedOn, dueOn: issuedOn, reason },
      creditOf: { number: invoice.number, issuedOn: invoice.issuedOn },
    },
  });
}

/** Locks an invoice that is about to be paid or credited. @throws Problem `not-found`, `not-yours` */
export async function lockInvoice(w: PersonWork, id: string): Promise<InvoiceRow> {
  await w.rows('SELECT 1 FROM invoice WHERE id = :id FOR UPDATE', { id: bytesOf(id) });
  const row = await readInvoiceRow(w, id);
  await assertMayChange(w, w.who, idOf(row.owner_id));
  return row;
}
