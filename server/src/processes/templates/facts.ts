import { sayMoney } from '@kettle/core/money';
import { localDate, sayDate } from '@kettle/core/time';
import type { Queryable } from '../../platform/database/database';
import { bytesOf } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { Facts } from './fill';
import type { Row } from '../../platform/database/schema.generated';

/** Every fact a text may ask for, in words and with an example: the list that stands beside the editor. */
export const factCatalogue: readonly {
  readonly name: string;
  readonly words: string;
  readonly example: string;
}[] = [
  { name: 'contact.given_name', words: $localize`their first name`, example: 'Ines' },
  { name: 'contact.family_name', words: $localize`their family name`, example: 'Prado' },
  { name: 'contact.name', words: $localize`their whole name`, example: 'Ines Prado' },
  { name: 'contact.job_title', words: $localize`what they do`, example: 'head baker' },
  { name: 'contact.email', words: $localize`their address`, example: 'ines@fen.example' },
  { name: 'contact.phone', words: $localize`their number`, example: '+44 1632 960001' },
  { name: 'company.name', words: $localize`their company`, example: 'Fen Street Bakery' },
  { name: 'company.city', words: $localize`its place`, example: 'Dunmere' },
  { name: 'deal.name', words: $localize`the open deal`, example: 'Softener for the spa' },
  { name: 'deal.value', words: $localize`its value`, example: '£12,000' },
  { name: 'deal.closes', words: $localize`its expected close`, example: 'Fri 18 Dec' },
  { name: 'agreement.name', words: $localize`the running agreement`, example: 'Yearly service' },
  { name: 'agreement.ends', words: $localize`the end of its term`, example: 'Thu 31 Dec' },
  { name: 'agreement.notice_until', words: $localize`when its notice closes`, example: 'Fri 27 Nov' },
  { name: 'agreement.value', words: $localize`its value a term`, example: '£3,180' },
  { name: 'sender.name', words: $localize`your name`, example: 'Imogen Thorne' },
  { name: 'sender.first_name', words: $localize`your first name`, example: 'Imogen' },
  { name: 'sender.organisation', words: $localize`your firm`, example: 'Hollinbeck Water' },
  { name: 'sender.email', words: $localize`your address`, example: 'imogen@hollinbeck.example' },
];

interface FactRow
  extends
    Row<'contact', 'job_title' | 'email' | 'phone'>,
    Row<'company', 'city'>,
    Row<'deal', 'expected_close_on'> {
  given_name: string | null;
  family_name: string | null;
  display_name: string;
  company_name: string | null;
  deal_name: string | null;
  amount_minor: string | null;
  agreement_name: string | null;
  ends_on: string | null;
  notice_deadline_on: string | null;
  value_minor: string | null;
  deal_currency: string | null;
  agreement_currency: string | null;
}

export interface FactAsk {
  readonly contactId: string;
  /** The deal meant; else their open one that closes soonest. */
  readonly dealId: string | null;
  readonly sender: {
    readonly name: string;
    readonly email: string;
    readonly zone: string;
    readonly organisation: string | null;
  };
  readonly now: string;
}

/** What is known of one person for a text. @throws Problem `not-found` */
export async function readFacts(db: Queryable, ask: FactAsk): Promise<Facts> {
  const [row] = await db.rows<FactRow>(
    `SELECT c.given_name, c.family_name, c.display_name, c.job_title, c.email, c.phone, co.name AS company_name, co.city,
            d.name AS deal_name, d.amount_minor, d.currency AS deal_currency, d.expected_close_on,
            a.name AS agreement_name, a.ends_on, a.notice_deadline_on, a.value_minor, a.currency AS agreement_currency
       FROM contact c
       LEFT JOIN company co ON co.id = c.company_id
       LEFT JOIN deal d ON d.id = COALESCE(:deal, (SELECT o.id FROM deal o WHERE o.contact_id = c.id AND o.status = 'open'
            ORDER BY o.expected_close_on IS NULL, o.expected_close_on, o.id LIMIT 1))
       LEFT JOIN agreement a ON a.id = (SELECT r.id FROM agreement r
            WHERE (r.contact_id = c.id OR r.company_id = c.company_id) AND r.ends_on >= :today AND r.archived_at IS NULL
            ORDER BY r.ends_on, r.id LIMIT 1)
      WHERE c.id = :contact`,
    {
      contact: bytesOf(ask.contactId),
      deal: ask.dealId === null ? null : bytesOf(ask.dealId),
      today: localDate(ask.now, ask.sender.zone),
    },
  );
  if (!row) throw new Problem('not-found');
  const today = localDate(ask.now, ask.sender.zone);
  const day = (on: string | null) => on && sayDate(on, today);
  const money = (minor: string | null, currency: string | null) =>
    minor === null || currency === null ? null : sayMoney(Number(minor), currency);
  return {
    contact: {
      given_name: row.given_name,
      family_name: row.family_name,
      name: row.display_name,
      job_title: row.job_title,
      email: row.email,
      phone: row.phone,
    },
    company: { name: row.company_name, city: row.city },
    deal: {
      name: row.deal_name,
      value: money(row.amount_minor, row.deal_currency),
      closes: day(row.expected_close_on),
    },
    agreement: {
      name: row.agreement_name,
      ends: day(row.ends_on),
      notice_until: day(row.notice_deadline_on),
      value: money(row.value_minor, row.agreement_currency),
    },
    sender: {
      name: ask.sender.name,
      first_name: ask.sender.name.split(' ')[0] ?? '',
      email: ask.sender.email,
      organisation: ask.sender.organisation,
    },
  };
}
