import type { AgreementId, createAgreement, UserId } from '@kettle/contract';
import { addMonths } from '@kettle/core/time';
import { firstTerm, noticeOf } from '@kettle/core/agreements';
import type * as z from 'zod';
import { sqlInstant } from '../../platform/database/values';
import { Problem } from '../../platform/problem';
import { bytesOf, idOrNull, newId } from '../../platform/ids';
import { writeSystemEntry } from '../../records/entries/index';
import { assertMayChange } from '../../records/rights/index';
import { type PersonWork } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';
import { writeLines, readYearlyLinesOfDeal } from './lines';
import { insertTerm, ownersDay, rollAgreements } from './place-agreements';

/**
 * An agreement with a contact and their company, if they have one, with its first term. One that began long ago and renews itself has rolled
 * on to the term of today.
 * @throws Problem `not-found`, `not-yours`, `invalid-request` at `signerId`
 */
export async function writeAgreement(
  w: PersonWork,
  body: z.output<typeof createAgreement>,
  /** Whose it is; left out, whoever writes it. */
  ownerId: UserId = w.who.id,
): Promise<AgreementId> {
  const id = newId<AgreementId>();
  const [contact] = await w.rows<Row<'contact', 'company_id' | 'owner_id'>>(
    'SELECT company_id, owner_id FROM contact WHERE id = :id',
    { id: bytesOf(body.contactId) },
  );
  if (!contact) throw new Problem('not-found');
  await assertMayChange(w, w.who, idOrNull(contact.owner_id));
  await assertSigner(w, body.signerId);
  const { organisation } = await w.settings();
  const term = firstTerm(body);
  const { calendar, today } = await ownersDay(w, ownerId);
  await w.change(
    `INSERT INTO agreement (id, name, company_id, contact_id, deal_id, owner_id, starts_on, term_months, value_minor,
        currency, notice_days, lead_days, renews_itself, uplift_kind, uplift_by, check_in_months, check_in_on, signer_id,
        ends_on, notice_deadline_on, lead_on, created_at)
     VALUES (:id, :name, :company, :contact, :deal, :owner, :startsOn, :termMonths, :valueMinor,
        :currency, :noticeDays, :leadDays, :renewsItself, :upliftKind, :upliftBy, :checkInMonths, :checkInOn, :signer,
        :endsOn, :noticeDeadlineOn, :leadOn, :now)`,
    {
      ...noticeOf(term.endsOn, body, calendar),
      ...{ endsOn: term.endsOn, signer: bytesOf(body.signerId) },
      id: bytesOf(id),
      name: body.name,
      company: contact.company_id,
      contact: bytesOf(body.contactId),
      deal: bytesOf(body.dealId),
      owner: bytesOf(ownerId),
      startsOn: body.startsOn,
      termMonths: body.termMonths,
      valueMinor: body.valueMinor,
      currency: body.currency ?? organisation.currency,
      noticeDays: body.noticeDays,
      leadDays: body.leadDays,
      renewsItself: body.renewsItself,
      upliftKind: body.upliftKind,
      upliftBy: body.upliftBy,
      checkInMonths: body.checkInMonths,
      checkInOn: nextCheckIn(body.startsOn, body.checkInMonths, today),
      now: sqlInstant(w.now),
    },
  );
  await insertTerm(w, id, term, body.dealId);
  const lines = body.lines ?? (body.dealId === null ? [] : await readYearlyLinesOfDeal(w, body.dealId));
  await writeLines(w, id, lines);
  await rollAgreements(w, [id]);
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

/** The next day after `after` on which to look how they are: every so many months from the start; null for never. */
export function nextCheckIn(startsOn: string, everyMonths: number | null, after: string): string | null {
  if (everyMonths === null) return null;
  let count = 1;
  while (addMonths(startsOn, count * everyMonths) <= after) count += 1;
  return addMonths(startsOn, count * everyMonths);
}

/** @throws Problem `invalid-request` at `signerId` */
export async function assertSigner(w: PersonWork, signerId: string | null): Promise<void> {
  if (signerId === null) return;
  const [found] = await w.rows('SELECT 1 FROM contact WHERE id = :id', { id: bytesOf(signerId) });
  if (found !== undefined) return;
  const fields = [{ path: 'signerId', message: $localize`is nobody we know; choose a person` }];
  throw new Problem('invalid-request', {}, { fields });
}
