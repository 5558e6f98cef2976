import type { AgreementRow, ChangeAgreement } from '@kettle/contract';
import { chainOn, correctedTerms } from '@kettle/core/agreements';
import { differencesOf } from '@kettle/core/fields';
import { sayMoney } from '@kettle/core/money';
import { Problem } from '../../platform/problem';
import { bytesOf } from '../../platform/ids';
import { mergeChange, type FieldsAt } from '../../platform/work/merge-change';
import type { PersonWork } from '../../platform/work/work';
import { writeSystemEntry } from '../../records/entries/index';
import { assertMayChange } from '../../records/rights/index';
import { readAgreements } from './agreement-rows';
import { ownersDay, rollAgreements } from './place-agreements';
import { readChains, upliftOf } from './read-chain';
import { assertSigner, nextCheckIn } from './write-agreement';

const fields: FieldsAt<ChangeAgreement> = {
  name: { column: 'name' },
  startsOn: { column: 'starts_on' },
  termMonths: { column: 'term_months', read: Number },
  valueMinor: { column: 'value_minor', read: Number },
  noticeDays: { column: 'notice_days', read: Number },
  leadDays: { column: 'lead_days', read: Number },
  renewsItself: { column: 'renews_itself', read: (text) => text === '1' },
  upliftKind: { column: 'uplift_kind' },
  upliftBy: { column: 'uplift_by', read: Number },
  checkInMonths: { column: 'check_in_months', read: (text) => (text === null ? null : Number(text)) },
  signerId: { column: 'signer_id' },
};

/**
 * Corrects what an agreement says over the version it was seen at: its terms, its end, its last day for notice and the day to talk follow.
 * The value is that of the running term from its beginning, or of its last change; from a day on it is changed by `changeTermValue`.
 * @throws Problem `stale`, `not-found`, `not-yours`
 */
export async function changeAgreement(w: PersonWork, id: string, asked: ChangeAgreement): Promise<void> {
  const before = await lockAgreement(w, id);
  const merged = await mergeChange(w, { table: 'agreement', id, fields, asked, record: before });
  const now = {
    ...before,
    ...Object.fromEntries(Object.entries(merged).filter(([, value]) => value !== undefined)),
  };
  if (now.signerId !== before.signerId) await assertSigner(w, now.signerId);
  const { today } = await ownersDay(w, before.ownerId);
  const rhythm =
    now.checkInMonths === before.checkInMonths && now.startsOn === before.startsOn
      ? ''
      : ', check_in_on = :checkInOn';
  await w.change(
    `UPDATE agreement SET name = :name, starts_on = :startsOn, notice_days = :noticeDays, lead_days = :leadDays,
            renews_itself = :renewsItself, uplift_kind = :upliftKind, uplift_by = :upliftBy, check_in_months = :checkInMonths,
            signer_id = :signer, value_minor = :valueMinor, term_months = :termMonths, version = version + 1${rhythm}
      WHERE id = :id`,
    {
      ...{ id: bytesOf(id), name: now.name, startsOn: now.startsOn, renewsItself: now.renewsItself },
      ...{ noticeDays: now.noticeDays, leadDays: now.leadDays, signer: bytesOf(now.signerId) },
      ...{ upliftKind: now.upliftKind, upliftBy: now.upliftBy, checkInMonths: now.checkInMonths },
      ...{ valueMinor: now.valueMinor, termMonths: now.termMonths },
      checkInOn: nextCheckIn(now.startsOn, now.checkInMonths, today),
    },
  );
  await correctTerms(w, before, now);
  await rollAgreements(w, [id]);
  await tellOf(w, before);
}

/** Locks an agreement that is about to change. @throws Problem `not-found`, `not-yours` */
export async function lockAgreement(w: PersonWork, id: string): Promise<AgreementRow> {
  await w.rows('SELECT 1 FROM agreement WHERE id = :id FOR UPDATE', { id: bytesOf(id) });
  const before = await read(w, id);
  await assertMayChange(w, w.who, before.ownerId);
  return before;
}

/** Writes the terms anew where a correction moves them, and the value where it holds since: of the term, or of its last change. */
async function correctTerms(w: PersonWork, before: AgreementRow, now: AgreementRow): Promise<void> {
  const [chain] = await readChains(w, [before.id]);
  if (chain === undefined) return;
  const { today, calendar } = await ownersDay(w, before.ownerId);
  const { term } = chainOn(chain, today, calendar);
  const change = chain.changes.findLast(({ on }) => on >= term.startsOn && on < term.endsOn && on <= today);
  const isOtherValue = now.valueMinor !== before.valueMinor;
  if (isOtherValue && change !== undefined)
    await w.change(
      'UPDATE agreement_change SET value_minor = :value WHERE agreement_id = :id AND on_day = :on',
      { id: bytesOf(before.id), value: now.valueMinor, on: change.on },
    );
  const corrected = correctedTerms(
    { ...chain, renewsItself: now.renewsItself, uplift: upliftOf(now.upliftKind, now.upliftBy) },
    {
      ...{ n: term.n, startsOn: now.startsOn },
      ...(now.termMonths === before.termMonths ? {} : { months: now.termMonths }),
      ...(isOtherValue && change === undefined ? { valueMinor: now.valueMinor } : {}),
    },
  );
  for (const [at, each] of corrected.entries()) {
    const was = chain.terms[at]!;
    if (
      was.startsOn === each.startsOn &&
      was.endsOn === each.endsOn &&
      was.valueMinor === each.valueMinor &&
      was.yearlyMinor === each.yearlyMinor &&
      was.months === each.months
    )
      continue;
    await w.change(
      `UPDATE agreement_term SET starts_on = :startsOn, ends_on = :endsOn, months = :months, value_minor = :value, yearly_minor = :yearly
        WHERE agreement_id = :id AND n = :n`,
      {
        ...{ id: bytesOf(before.id), n: each.n, startsOn: each.startsOn, endsOn: each.endsOn },
        ...{ months: each.months, value: each.valueMinor, yearly: each.yearlyMinor },
      },
    );
  }
}

/** What is different now, into the journal and the name of the change. */
async function tellOf(w: PersonWork, before: AgreementRow): Promise<void> {
  const after = await read(w, before.id);
  const words = differencesOf(say(before), say(after));
  if (words.length === 0) return;
  await tellAgreement(w, after, $localize`Agreement “${before.name}:name:”: ${words.join('; ')}:join:`);
}

/** Says in the journal of whom it is with, and as the name of the change, what happened to an agreement. */
export async function tellAgreement(w: PersonWork, about: AgreementRow, body: string): Promise<void> {
  const { contactId, companyId } = about;
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
  [$localize`Dearer the next term`, sayUplift(it)],
  [$localize`Check-in, months`, it.checkInMonths === null ? '–' : String(it.checkInMonths)],
];

function sayUplift({ upliftKind: kind, upliftBy: by, currency }: AgreementRow): string {
  if (kind === 'percent') return `${by / 100} %`;
  return kind === 'amount' ? sayMoney(by, currency) : '–';
}
