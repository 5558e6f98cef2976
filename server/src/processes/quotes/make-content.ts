import type { PlainDate, QuoteId } from '@kettle/contract';
import { sayNumber } from '@kettle/core/quotes';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { idOf } from '../../platform/ids';
import type { AllSettings } from '../../records/settings/index';
import type { QuoteContent } from './content';
import { readLines, totalsOf, type QuoteRow } from './quote-rows';

interface Setting {
  readonly settings: Pick<AllSettings, 'organisation' | 'selling'>;
  readonly today: PlainDate;
}

/** A quote as it would go out today. */
export async function makeContent(
  db: Queryable,
  row: QuoteRow,
  { settings, today }: Setting,
): Promise<QuoteContent> {
  const { organisation, selling } = settings;
  const [found] = await db.rows<Row<'company', 'street' | 'postcode' | 'city' | 'country'>>(
    'SELECT street, postcode, city, country FROM company WHERE id = :id',
    { id: row.company_id },
  );
  const lines = (await readLines(db, [row.id])).get(idOf<QuoteId>(row.id)) ?? [];
  const full = (...parts: readonly (string | null | undefined)[]) =>
    parts.filter((part): part is string => !!part);
  return {
    ...{ number: row.number === null ? '' : sayNumber('Q', row.number), n: row.n, title: row.name },
    ...{
      intro: row.intro,
      closing: row.closing,
      sentOn: today,
      validUntil: row.valid_until,
      currency: row.currency,
    },
    seller: {
      name: organisation.name,
      address: full(selling.street, full(selling.postcode, selling.city).join(' ')),
      ...{ vatId: selling.vatId, email: selling.email, payment: selling.payment },
    },
    customer: full(
      row.company_name,
      row.contact_name,
      found?.street,
      full(found?.postcode, found?.city).join(' '),
    ),
    lines: lines.map(({ productId: _, ...line }) => line),
    totals: totalsOf(lines),
  };
}
