import type { AgreementId, createAgreement } from '@kettle/contract';
import { termDates } from '@kettle/core/agreements';
import type * as z from 'zod';
import { sqlInstant } from '../../platform/database/values';
import { Problem } from '../../platform/problem';
import { bytesOf, idOrNull, newId } from '../../platform/ids';
import { writeSystemEntry } from '../../records/entries/index';
import { assertMayChange } from '../../records/rights/index';
import { type PersonWork } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';

/**
 * An agreement with a contact and their company, if they have one; its dates computed for the first term.
 * @throws Problem `not-found`, `not-yours`
 */
export async function writeAgreement(
  w: PersonWork,
  body: z.output<typeof createAgreement>,
): Promise<AgreementId> {
  const { calendars } = w.services;
  const id = newId<AgreementId>();
  const [contact] = await w.rows<Row<'contact', 'company_id' | 'owner_id'>>(
    'SELECT company_id, owner_id FROM contact WHERE id = :id',
    { id: bytesOf(body.contactId) },
  );
  if (!contact) throw new Problem('not-found');
  await assertMayChange(w, w.who, idOrNull(contact.owner_id));
  const { organisation } = await w.settings();
  const dates = termDates(body, 0, calendars.of({ ...w.who, absences: [] }, organisation));
  await w.change(
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
      owner: bytesOf(w.who.id),
      startsOn: body.startsOn,
      termMonths: body.termMonths,
      valueMinor: body.valueMinor,
      currency: body.currency ?? organisation.currency,
      noticeDays: body.noticeDays,
      leadDays: body.leadDays,
      renewsItself: body.renewsItself,
      now: sqlInstant(w.now),
    },
  );
  const about = {
    contactId: body.contactId,
    companyId: idOrNull<string>(contact.company_id),
    dealId: body.dealId,
    userId: w.who.id,
  };
  await writeSystemEntry(w, {
    ...about,
    body: $localize`Agreement “${body.name}:name:” from ${body.startsOn}:startsOn:`,
  });
  w.say($localize`Agreement “${body.name}:name:” created`);
  return id;
}
