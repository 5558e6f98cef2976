import type { AgreementRow, ChangeTermValue, EndAgreement } from '@kettle/contract';
import { chainOn, noticeEffect } from '@kettle/core/agreements';
import { sayMoney } from '@kettle/core/money';
import { sqlInstant } from '../../platform/database/values';
import { Problem } from '../../platform/problem';
import { bytesOf, newId } from '../../platform/ids';
import type { PersonWork } from '../../platform/work/work';
import { lockAgreement, tellAgreement } from './change-agreement';
import { ownersDay, rollAgreements } from './place-agreements';
import { readChains, type StoredChain } from './read-chain';

const refuse = (path: string, message: string) =>
  new Problem('invalid-request', {}, { fields: [{ path, message }] });

async function lockAt(w: PersonWork, id: string, version: number): Promise<AgreementRow> {
  const before = await lockAgreement(w, id);
  if (before.version !== version) throw new Problem('stale', {}, { current: before });
  return before;
}

async function chainOfOne(w: PersonWork, id: string): Promise<StoredChain> {
  const [chain] = await readChains(w, [id]);
  if (chain === undefined) throw new Problem('not-found');
  return chain;
}

/**
 * More or less from a day within a term on, be it past or still to come; another one on the same day takes its place.
 * @throws Problem `stale`, `not-found`, `not-yours`, `invalid-request` at `on`
 */
export async function changeTermValue(w: PersonWork, id: string, asked: ChangeTermValue): Promise<void> {
  const before = await lockAt(w, id, asked.version);
  const chain = await chainOfOne(w, id);
  const [first, last] = [chain.terms[0]!, chain.terms.at(-1)!];
  if (asked.on < first.startsOn)
    throw refuse('on', $localize`lies before the start, ${first.startsOn}:startsOn:`);
  if (asked.on >= last.endsOn || (chain.leavesOn !== null && asked.on >= chain.leavesOn))
    throw refuse(
      'on',
      $localize`lies after the last day of the term; renew the agreement first, or choose a day before ${chain.leavesOn ?? last.endsOn}:endsOn:`,
    );
  await w.change(
    `INSERT INTO agreement_change (id, agreement_id, on_day, value_minor, words, user_id, created_at)
     VALUES (:change, :id, :on, :value, :words, :user, :now)
     ON DUPLICATE KEY UPDATE value_minor = VALUES(value_minor), words = VALUES(words), user_id = VALUES(user_id)`,
    {
      ...{ change: bytesOf(newId()), id: bytesOf(id), on: asked.on, value: asked.valueMinor },
      ...{ words: asked.words, user: bytesOf(w.who.id), now: sqlInstant(w.now) },
    },
  );
  await w.change('UPDATE agreement SET version = version + 1 WHERE id = :id', { id: bytesOf(id) });
  const why = asked.words === '' ? '' : `. ${asked.words}`;
  await tellAgreement(
    w,
    before,
    $localize`Agreement “${before.name}:name:”: ${sayMoney(asked.valueMinor, before.currency)}:value: a term from ${asked.on}:on: on${why}:why:`,
  );
}

/**
 * A notice, or an end agreed on. Without a day, a notice takes effect at the end of the term; where the agreement renews itself and the last day
 * for it is past, at the end of the next.
 * @throws Problem `stale`, `not-found`, `not-yours`, `invalid-request` at `leavesOn`, `noticeOn`
 */
export async function endAgreement(w: PersonWork, id: string, asked: EndAgreement): Promise<void> {
  const before = await lockAt(w, id, asked.version);
  const chain = await chainOfOne(w, id);
  const { today, calendar } = await ownersDay(w, before.ownerId);
  if (asked.noticeOn !== null && asked.noticeOn > today)
    throw refuse('noticeOn', $localize`lies in the future`);
  const leavesOn = asked.leavesOn ?? noticeEffect(chain, asked.noticeOn ?? today, calendar).leavesOn;
  if (leavesOn <= chain.terms[0]!.startsOn)
    throw refuse('leavesOn', $localize`must lie after the start; delete an agreement that never began`);
  const last = chain.terms.at(-1)!.endsOn;
  if (!chain.renewsItself && leavesOn > last)
    throw refuse(
      'leavesOn',
      $localize`lies after the end of the term, ${last}:last:, and it does not renew itself`,
    );
  await writeEnd(w, {
    id,
    leavesOn,
    noticeOn: asked.noticeOn,
    by: asked.by,
    reason: asked.reason,
    words: asked.words,
  });
  const more = asked.words === '' ? '' : `. ${asked.words}`;
  await tellAgreement(
    w,
    before,
    $localize`Agreement “${before.name}:name:” ends on ${leavesOn}:leavesOn:: ${asked.reason}:reason:${more}:more:`,
  );
}

export interface AgreementEnd {
  readonly id: string;
  readonly leavesOn: string;
  readonly noticeOn: string | null;
  readonly by: 'customer' | 'us';
  readonly reason: string;
  readonly words: string;
}

export async function writeEnd(w: PersonWork, end: AgreementEnd): Promise<void> {
  await w.change(
    `UPDATE agreement SET leaves_on = :leavesOn, notice_on = :noticeOn, ended_by = :by, end_reason = :reason, end_words = :words,
            version = version + 1
      WHERE id = :id`,
    { ...end, id: bytesOf(end.id) },
  );
}

/** The customer stays: nothing ends the agreement, and it goes on as before. @throws Problem `stale`, `not-found`, `not-yours`, `not-finished` */
export async function keepAgreement(
  w: PersonWork,
  id: string,
  asked: { readonly version: number; readonly words: string },
): Promise<void> {
  const before = await lockAt(w, id, asked.version);
  if (before.leavesOn === null) throw refuse('version', $localize`nothing ends it`);
  await takeEndBack(w, id);
  await rollAgreements(w, [id]);
  const more = asked.words === '' ? '' : `. ${asked.words}`;
  await tellAgreement(w, before, $localize`Agreement “${before.name}:name:” stays after all${more}:more:`);
}

export async function takeEndBack(w: PersonWork, id: string): Promise<void> {
  await w.change(
    `UPDATE agreement SET leaves_on = NULL, notice_on = NULL, ended_by = NULL, end_reason = NULL, end_words = '', version = version + 1
      WHERE id = :id`,
    { id: bytesOf(id) },
  );
}

/** The day on which an agreement whose renewal was lost does not hold any more: the end of its term, or of the one that began meanwhile. */
export async function endOfLost(w: PersonWork, chain: StoredChain, n: number): Promise<string> {
  const term = chain.terms.find((each) => each.n === n)!;
  const { today, calendar } = await ownersDay(w, chain.ownerId);
  const day = chainOn(chain, today, calendar);
  return day.term.n > n ? noticeEffect(chain, today, calendar).leavesOn : term.endsOn;
}
