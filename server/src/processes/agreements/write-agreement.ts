import type { AgreementId, createAgreement } from '@kettle/contract';
import { termDates } from '@kettle/core/agreements';
import type * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import { sqlInstant } from '../../platform/database/values';
import { Problem } from '../../platform/http/problem';
import { bytesOf, idOrNull, newId, type IdBytes } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { noteChange } from '../../platform/change-feed/feed';
import { writeSystemEntry } from '../../activity/journal/write-entry';
import { assertMayChange } from '../../records/users/rights';
import type { SignedIn } from '../../records/users/session';

/**
 * An agreement with a contact and their company, if they have one; its dates computed for the first term.
 * @throws Problem `not-found`, `not-yours`
 */
export async function writeAgreement(
  tx: Queryable,
  { clock, settings, calendars }: Services,
  who: SignedIn,
  body: z.output<typeof createAgreement>,
  now = clock.now(),
): Promise<AgreementId> {
  const id = newId<AgreementId>();
  const [contact] = await tx.rows<{ company_id: IdBytes | null; owner_id: IdBytes | null }>(
    'SELECT company_id, owner_id FROM contact WHERE id = :id',
    { id: bytesOf(body.contactId) },
  );
  if (!contact) throw new Problem('not-found');
  await assertMayChange(tx, who, idOrNull(contact.owner_id));
  const { organisation } = await settings.read(tx);
  const dates = termDates(body, 0, calendars.of(who.country, who.zone, who.hours));
  await tx.change(
    `INSERT INTO agreement (id, name, company_id, contact_id, deal_id, owner_id, starts_on, term_months, value_minor,
        currency, notice_days, lead_days, renews_itself, ends_on, notice_deadline_on, lead_on, created_at)
     VALUES (:id, :name, :company, :contact, :deal, :owner, :startsOn, :termMonths, :valueMinor,
        :currency, :noticeDays, :leadDays, :renewsItself, :endsOn, :noticeDeadlineOn, :leadOn, :now)`,
    {
      ...dates,
      id: bytesOf(id),
      name: body.name,
      company: contact.company_id,
      contact: bytesOf(body.contactId),
      deal: bytesOf(body.dealId),
      owner: bytesOf(who.id),
      startsOn: body.startsOn,
      termMonths: body.termMonths,
      valueMinor: body.valueMinor,
      currency: organisation.currency,
      noticeDays: body.noticeDays,
      leadDays: body.leadDays,
      renewsItself: body.renewsItself,
      now: sqlInstant(now),
    },
  );
  const about = {
    contactId: body.contactId,
    companyId: idOrNull<string>(contact.company_id),
    dealId: body.dealId,
    userId: who.id,
  };
  await writeSystemEntry(tx, { ...about, body: `Agreement “${body.name}” from ${body.startsOn}`, now });
  await noteChange(tx, 'agreement', id, who.id);
  return id;
}
