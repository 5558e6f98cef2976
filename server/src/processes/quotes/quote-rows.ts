import type {
  DealId,
  PlainDate,
  ProductId,
  Quote,
  QuoteId,
  QuoteSummary,
  QuoteTotals,
} from '@kettle/contract';
import type { QuoteState } from '@kettle/contract/quotes/kinds';
import { lineMinor } from '@kettle/core/deals';
import { offeredTotals, sayNumber, type OfferedLine } from '@kettle/core/quotes';
import type { Queryable } from '../../platform/database/database';
import { readSecret } from '../../platform/database/secret';
import type { Row } from '../../platform/database/schema.generated';
import { instantOf, instantOrNull, wholeNumber } from '../../platform/database/values';
import { bytesOf, idOf, idOrNull } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import { signLink } from '../../activity/outbox/index';
import { mayChange } from '../../records/rights/index';
import { todayOf, type SignedIn } from '../../records/users/index';

type Line = Quote['lines'][number];

export type QuoteRow = Row<
  'quote',
  | 'id'
  | 'deal_id'
  | 'number'
  | 'n'
  | 'state'
  | 'currency'
  | 'name'
  | 'intro'
  | 'closing'
  | 'valid_until'
  | 'task_id'
  | 'sent_at'
  | 'decided_at'
  | 'decided_name'
  | 'decided_words'
  | 'version'
> &
  Row<'deal', 'owner_id' | 'contact_id' | 'company_id'> & {
    deal_name: string;
    contact_name: string | null;
    contact_email: string | null;
    company_name: string | null;
  };

const select = `SELECT q.id, q.deal_id, q.number, q.n, q.state, q.currency, q.name, q.intro, q.closing, q.valid_until, q.task_id, q.sent_at,
    q.decided_at, q.decided_name, q.decided_words, q.version, d.owner_id, d.contact_id, d.company_id, d.name AS deal_name,
    c.display_name AS contact_name, c.email AS contact_email, COALESCE(co.name, c.company_name) AS company_name
  FROM quote q JOIN deal d ON d.id = q.deal_id LEFT JOIN contact c ON c.id = d.contact_id LEFT JOIN company co ON co.id = d.company_id`;

/** @throws Problem `not-found` */
export async function readQuoteRow(db: Queryable, id: string): Promise<QuoteRow> {
  const [row] = await db.rows<QuoteRow>(`${select} WHERE q.id = :id`, { id: bytesOf(id) });
  if (row === undefined) throw new Problem('not-found');
  return row;
}

/** One that was sent lapses when its last day is over. */
export const stateOf = ({ state, valid_until: until }: QuoteRow, today: PlainDate): QuoteState =>
  state === 'sent' && until < today ? 'lapsed' : state;

export const numberOf = ({ number }: Pick<QuoteRow, 'number'>): string | null =>
  number === null ? null : sayNumber('Q', number);

/** The lines of quotes in their order, by quote. */
export async function readLines(
  db: Queryable,
  ids: readonly QuoteRow['id'][],
): Promise<ReadonlyMap<QuoteId, readonly Line[]>> {
  if (ids.length === 0) return new Map();
  const rows = await db.rows<
    Row<
      'quote_line',
      | 'quote_id'
      | 'product_id'
      | 'name'
      | 'quantity'
      | 'price_minor'
      | 'discount_percent'
      | 'tax_percent'
      | 'billing'
      | 'is_optional'
      | 'is_chosen'
    >
  >(
    `SELECT quote_id, product_id, name, quantity, price_minor, discount_percent, tax_percent, billing, is_optional, is_chosen
       FROM quote_line WHERE quote_id IN (:ids) ORDER BY quote_id, position, id`,
    { ids: [...ids] },
  );
  const lines = new Map<QuoteId, Line[]>();
  for (const row of rows) {
    const line = {
      ...{ productId: idOrNull<ProductId>(row.product_id), name: row.name, quantity: Number(row.quantity) },
      ...{ priceMinor: wholeNumber(row.price_minor), discountPercent: Number(row.discount_percent) },
      ...{ taxPercent: Number(row.tax_percent), billing: row.billing },
      ...{ isOptional: row.is_optional === 1, isChosen: row.is_chosen === 1 },
    };
    const id = idOf<QuoteId>(row.quote_id);
    lines.set(id, [...(lines.get(id) ?? []), { ...line, netMinor: lineMinor(line) }]);
  }
  return lines;
}

/** Of one quote. */
export const readQuoteLines = async (db: Queryable, id: string): Promise<readonly Line[]> =>
  [...(await readLines(db, [bytesOf(id) as QuoteRow['id']])).values()].flat();

export function totalsOf(lines: readonly OfferedLine[]): QuoteTotals {
  const { taxes, ...sums } = offeredTotals(lines);
  return { ...sums, taxes: [...taxes] };
}

const summaryOf = (row: QuoteRow, totalMinor: number, today: PlainDate): QuoteSummary => ({
  ...{ id: idOf<QuoteId>(row.id), dealId: idOf<DealId>(row.deal_id), number: numberOf(row), n: row.n },
  ...{ state: stateOf(row, today), title: row.name, currency: row.currency, totalMinor },
  ...{ validUntil: row.valid_until, sentAt: instantOrNull(row.sent_at), version: row.version },
});

/** The quotes of a deal, the newest first. */
export async function readQuotesOf(
  services: Services,
  who: SignedIn,
  dealId: DealId,
): Promise<QuoteSummary[]> {
  const { database: db } = services;
  const rows = await db.rows<QuoteRow>(
    `${select} WHERE q.deal_id = :deal ORDER BY q.created_at DESC, q.id DESC`,
    {
      deal: bytesOf(dealId),
    },
  );
  const lines = await readLines(
    db,
    rows.map(({ id }) => id),
  );
  const today = todayOf(services, who);
  return rows.map((row) => summaryOf(row, totalsOf(lines.get(idOf(row.id)) ?? []).totalMinor, today));
}

/** @throws Problem `not-found` */
export async function readQuote(services: Services, who: SignedIn, id: string): Promise<Quote> {
  const { database: db, channels } = services;
  const row = await readQuoteRow(db, id);
  const [lines, questions, versions] = await Promise.all([
    readLines(db, [row.id]),
    db.rows<Row<'quote_question', 'at' | 'name' | 'words'>>(
      'SELECT at, name, words FROM quote_question WHERE quote_id = :id ORDER BY at DESC, id LIMIT 100',
      { id: row.id },
    ),
    db.rows<Row<'quote_version', 'n' | 'sent_at' | 'total_minor'>>(
      'SELECT n, sent_at, total_minor FROM quote_version WHERE quote_id = :id ORDER BY n DESC',
      { id: row.id },
    ),
  ]);
  const own = lines.get(idOf(row.id)) ?? [];
  const totals = totalsOf(own);
  const isOut = row.number !== null && row.state !== 'draft';
  return {
    ...summaryOf(row, totals.totalMinor, todayOf(services, who)),
    dealName: row.deal_name,
    contactName: row.contact_name ?? '',
    contactEmail: row.contact_email,
    companyName: row.company_name,
    ...{ intro: row.intro, closing: row.closing, lines: [...own], totals },
    link: isOut
      ? `${channels.publicOrigin}/out/quotes/${signLink(await readSecret(db, 'links'), 'quote', id)}`
      : null,
    decidedAt: instantOrNull(row.decided_at),
    decidedName: row.decided_name,
    decidedWords: row.decided_words,
    questions: questions.map(({ at, name, words }) => ({ at: instantOf(at), name, words })),
    versions: versions.map(({ n, sent_at: at, total_minor: total }) => ({
      ...{ n, at: instantOf(at), totalMinor: wholeNumber(total) },
    })),
    mayChange: mayChange(who, idOf(row.owner_id)),
  };
}
