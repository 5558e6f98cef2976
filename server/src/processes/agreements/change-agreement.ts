import type { AgreementRow, ChangeAgreement } from '@kettle/contract';
import { termDates } from '@kettle/core/agreements';
import { differencesOf } from '@kettle/core/fields';
import { sayMoney } from '@kettle/core/money';
import { Problem } from '../../platform/problem';
import { bytesOf } from '../../platform/ids';
import { mergeChange, type FieldsAt } from '../../platform/work/merge-change';
import type { PersonWork } from '../../platform/work/work';
import { writeSystemEntry } from '../../records/entries/index';
import { assertMayChange } from '../../records/rights/index';
import { readAgreements } from './agreement-rows';

const fields: FieldsAt<ChangeAgreement> = {
  name: { column: 'name' },
  startsOn: { column: 'starts_on' },
  termMonths: { column: 'term_months', read: Number },
  valueMinor: { column: 'value_minor', read: Number },
  noticeDays: { column: 'notice_days', read: Number },
  leadDays: { column: 'lead_days', read: Number },
  renewsItself: { column: 'renews_itself', read: (text) => text === '1' },
};

/**
 * Changes what an agreement says over the version it was seen at; its end, its last day for notice and the day to talk follow.
 * @throws Problem `stale`, `not-found`, `not-yours`
 */
export async function changeAgreement(w: PersonWork, id: string, asked: ChangeAgreement): Promise<void> {
  await w.rows('SELECT 1 FROM agreement WHERE id = :id FOR UPDATE', { id: bytesOf(id) });
  const before = await read(w, id);
  await assertMayChange(w, w.who, before.ownerId);
  const merged = await mergeChange(w, { table: 'agreement', id, fields, asked, record: before });
  const now = {
    ...before,
    ...Object.fromEntries(Object.entries(merged).filter(([, value]) => value !== undefined)),
  };
  const calendar = w.services.calendars.of({ ...w.who, absences: [] }, (await w.settings()).organisation);
  await w.change(
    `UPDATE agreement SET name = :name, starts_on = :startsOn, term_months = :termMonths, value_minor = :valueMinor,
            notice_days = :noticeDays, lead_days = :leadDays, renews_itself = :renewsItself, ends_on = :endsOn,
            notice_deadline_on = :noticeDeadlineOn, lead_on = :leadOn, version = version + 1
      WHERE id = :id`,
    {
      ...termDates(now, 0, calendar),
      id: bytesOf(id),
      name: now.name,
      startsOn: now.startsOn,
      termMonths: now.termMonths,
      valueMinor: now.valueMinor,
      noticeDays: now.noticeDays,
      leadDays: now.leadDays,
      renewsItself: now.renewsItself,
    },
  );
  const after = await read(w, id);
  const words = differencesOf(say(before), say(after));
  if (words.length === 0) return;
  const { contactId, companyId } = after;
  const body = $localize`Agreement “${before.name}:name:”: ${words.join('; ')}:join:`;
  await writeSystemEntry(w, { body, contactId, companyId, userId: w.who.id });
  w.say(body);
}

async function read(w: PersonWork, id: string): Promise<AgreementRow> {
  const [found] = await readAgreements(w, [bytesOf(id)]);
  if (!found) throw new Problem('not-found');
  return found;
}

const say = (it: AgreementRow): readonly (readonly [string, string])[] => [
  [$localize`Name`, it.name],
  [$localize`From`, it.startsOn],
  [$localize`Months`, String(it.termMonths)],
  [$localize`Value`, sayMoney(it.valueMinor, it.currency)],
  [$localize`Notice, days before the end`, String(it.noticeDays)],
  [$localize`Talk, days before`, String(it.leadDays)],
  [$localize`Renews itself`, it.renewsItself ? 'yes' : 'no'],
];
