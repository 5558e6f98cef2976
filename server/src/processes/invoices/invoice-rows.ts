import type { DealId, Invoice, InvoiceId, InvoiceSummary, ListInvoices } from '@kettle/contract';
import { balanceOf, invoiceStateOn } from '@kettle/core/invoices';
import { sayNumber } from '@kettle/core/quotes';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { instantOf, jsonOf, wholeNumber } from '../../platform/database/values';
import { bytesOf, idOf, idOrNull } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import { mayChange, reachParameters, withinReach } from '../../records/rights/index';
import { todayOf, type SignedIn } from '../../records/users/index';
import { invoiceContent, type InvoiceContent } from './content';

const mostListed = 500;

export type InvoiceRow = Row<
  'invoice',
  | 'id'
  | 'kind'
  | 'number'
  | 'deal_id'
  | 'credit_of_id'
  | 'name'
  | 'customer'
  | 'currency'
  | 'issued_on'
  | 'due_on'
  | 'content'
  | 'total_minor'
  | 'task_id'
  | 'reason'
> &
  Row<'deal', 'owner_id' | 'contact_id' | 'company_id'> & {
    deal_name: string;
    owner_name: string;
    paid: string;
    credited: string;
  };

/** What was paid of an invoice, and what credit notes took off. */
export const paid = '(SELECT COALESCE(SUM(p.minor), 0) FROM payment p WHERE p.invoice_id = i.id)';
export const credited = '(SELECT COALESCE(SUM(k.total_minor), 0) FROM invoice k WHERE k.credit_of_id = i.id)';

const select = `SELECT i.id, i.kind, i.number, i.deal_id, i.credit_of_id, i.name, i.customer, i.currency, i.issued_on, i.due_on, i.content,
    i.total_minor, i.task_id, i.reason, d.owner_id, d.contact_id, d.company_id, d.name AS deal_name, u.name AS owner_name,
    ${paid} AS paid, ${credited} AS credited
  FROM invoice i JOIN deal d ON d.id = i.deal_id JOIN app_user u ON u.id = d.owner_id`;

/** Which number is whose: both series begin with one. */
export const invoiceNumber = ({ kind, number }: Pick<InvoiceRow, 'kind' | 'number'>): string =>
  sayNumber(kind === 'credit' ? 'C' : 'I', number);

export const contentOf = (row: Pick<InvoiceRow, 'content'>): InvoiceContent =>
  invoiceContent.parse(jsonOf(row.content));

/** @throws Problem `not-found` */
export async function readInvoiceRow(db: Queryable, id: string): Promise<InvoiceRow> {
  const [row] = await db.rows<InvoiceRow>(`${select} WHERE i.id = :id`, { id: bytesOf(id) });
  if (row === undefined) throw new Problem('not-found');
  return row;
}

export const sumsOf = (row: InvoiceRow) => ({
  totalMinor: wholeNumber(row.total_minor),
  paidMinor: wholeNumber(row.paid),
  creditedMinor: wholeNumber(row.credited),
});

function summaryOf(row: InvoiceRow, today: string): InvoiceSummary {
  const sums = sumsOf(row);
  const isCredit = row.kind === 'credit';
  return {
    ...{ id: idOf<InvoiceId>(row.id), number: invoiceNumber(row), kind: row.kind },
    // A credit note asks for nothing.
    state: isCredit ? 'credited' : invoiceStateOn({ ...sums, dueOn: row.due_on }, today),
    ...{ dealId: idOf<DealId>(row.deal_id), dealName: row.deal_name, customer: row.customer },
    ...{ ownerName: row.owner_name, currency: row.currency, issuedOn: row.issued_on, dueOn: row.due_on },
    ...sums,
    balanceMinor: isCredit ? 0 : balanceOf(sums),
  };
}

const shown: Readonly<Record<ListInvoices['show'], string>> = {
  all: 'TRUE',
  open: `i.kind = 'invoice' AND i.total_minor > ${paid} + ${credited}`,
  overdue: `i.kind = 'invoice' AND i.due_on < :today AND i.total_minor > ${paid} + ${credited}`,
};

/** Invoices of a view, the newest first, and how many it hides. */
export async function readInvoices(
  services: Services,
  who: SignedIn,
  { dealId, show, owner }: ListInvoices,
): Promise<{ invoices: InvoiceSummary[]; hidden: number }> {
  const { database: db } = services;
  const today = todayOf(services, who);
  const parameters = { ...reachParameters(who), me: bytesOf(who.id), deal: bytesOf(dealId ?? null), today };
  const mine = `${withinReach(who, 'invoice', 'i')} AND (:deal IS NULL OR i.deal_id = :deal)`;
  const where = `${mine} AND ${shown[show]} AND ${owner === 'mine' && dealId === undefined ? 'd.owner_id = :me' : 'TRUE'}`;
  const [rows, [all]] = await Promise.all([
    db.rows<InvoiceRow>(
      `${select} WHERE ${where} ORDER BY i.issued_on DESC, i.created_at DESC, i.id LIMIT ${mostListed}`,
      parameters,
    ),
    db.rows<{ many: string }>(
      `SELECT COUNT(*) AS many FROM invoice i JOIN deal d ON d.id = i.deal_id WHERE ${mine}`,
      parameters,
    ),
  ]);
  return {
    invoices: rows.map((row) => summaryOf(row, today)),
    hidden: wholeNumber(all?.many ?? 0) - rows.length,
  };
}

/** @throws Problem `not-found` */
export async function readInvoice(services: Services, who: SignedIn, id: string): Promise<Invoice> {
  const { database: db } = services;
  const row = await readInvoiceRow(db, id);
  const [payments, others] = await Promise.all([
    db.rows<Row<'payment', 'id' | 'on_day' | 'minor' | 'words' | 'created_at'> & { by_name: string }>(
      `SELECT p.id, p.on_day, p.minor, p.words, p.created_at, u.name AS by_name FROM payment p JOIN app_user u ON u.id = p.user_id
        WHERE p.invoice_id = :id ORDER BY p.on_day, p.created_at, p.id`,
      { id: row.id },
    ),
    db.rows<Row<'invoice', 'id' | 'kind' | 'number'>>(
      'SELECT id, kind, number FROM invoice WHERE id = :of OR credit_of_id = :id ORDER BY created_at, id',
      { id: row.id, of: row.credit_of_id },
    ),
  ]);
  const { lines, totals, title } = contentOf(row);
  const named = others.map((each) => ({ id: idOf<InvoiceId>(each.id), number: invoiceNumber(each) }));
  const of = idOrNull<InvoiceId>(row.credit_of_id);
  return {
    ...summaryOf(row, todayOf(services, who)),
    ...{ title, lines, totals, reason: row.reason },
    payments: payments.map((each) => ({
      ...{ id: idOf<string>(each.id), on: each.on_day, minor: wholeNumber(each.minor), words: each.words },
      ...{ by: each.by_name, at: instantOf(each.created_at) },
    })),
    creditOf: named.find((each) => each.id === of) ?? null,
    credits: named.filter((each) => each.id !== of),
    mayChange: mayChange(who, idOf(row.owner_id)),
  };
}
