import { sayCount } from '@kettle/core/locale';
import type { CloseDeal, Deal, reopenDeal as reopening, Stage } from '@kettle/contract';
import { stageLike } from '@kettle/core/deals';
import { sayMoney } from '@kettle/core/money';
import { localDate } from '@kettle/core/time';
import type * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import { sqlInstant } from '../../platform/database/values';
import { Problem } from '../../platform/problem';
import { bytesOf } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { endRenewed, renewAgreements, reopenRenewed, writeAgreement } from '../agreements/index';
import { applyEvent } from '../cadences/index';

import { writeSystemEntry } from '../../records/entries/index';
import { readAt, type SignedIn } from '../../records/users/index';
import { moveStanding } from '../../records/contacts/index';
import { readAllStages, readPipelines } from '../../records/pipelines/index';
import { tickPrompts } from './change-deal';
import { bringStepsBack, dropSteps, reasonOf, runsOfDeal } from './closing-steps';
import { readDeal } from './deal-rows';
import { handOn } from './hand-on';
import { writeFirstStep } from './first-step';
import { assertMayChangeDeal, lockDeal } from './lock-deal';
import { assertTicked, enter, leave } from './stages';
import { mergeChange, type FieldsAt } from '../../platform/work/merge-change';
import type { PersonWork } from '../../platform/work/work';
import { findSet, undoSet } from '../../activity/changes/index';
import type { Row } from '../../platform/database/schema.generated';

type Reopening = z.output<typeof reopening>;

/** What a closing says of the deal beside that it is closed: the value it came to, which somebody may have changed meanwhile. */
const closingFields: FieldsAt<Winning> = {
  amountMinor: { column: 'amount_minor' },
  ...{ as: 'not kept', on: 'not kept', reason: 'not kept', words: 'not kept', standingId: 'not kept' },
  ...{ tick: 'not kept', agreement: 'not kept', renewed: 'not kept', handOnTo: 'not kept', keep: 'not kept' },
};

/** Takes a deal off the lanes: won or lost on a day that is not ahead, or parked until one that is. */
export async function closeDeal(w: PersonWork, dealId: string, asked: CloseDeal): Promise<void> {
  assertDay(asked, localDate(w.now, w.who.zone));
  const before = await lockDeal(w, { id: dealId, isOpen: true });
  if (asked.as === 'won') await assertReason(w, asked.reason);
  const body =
    asked.as === 'won'
      ? await mergeChange(w, { table: 'deal', id: dealId, fields: closingFields, asked, record: before })
      : asked;
  if (body.as === 'won') await winWith(w, before, body);
  if (body.as === 'lost') await endRenewed(w, dealId, body);
  await w.change(
    `UPDATE deal SET status = :as, closed_on = :on, close_reason = :reason, close_words = :words, lost_to = :lostTo,
            wake_on = :wakeOn
      WHERE id = :id`,
    {
      id: bytesOf(dealId),
      as: body.as,
      on: body.as === 'parked' ? null : body.on,
      wakeOn: body.as === 'parked' ? body.wakeOn : null,
      reason: body.reason,
      words: body.words,
      lostTo: body.as === 'lost' ? body.lostTo : null,
    },
  );
  await leave(w, before, reasonOf(body.as), body.keep);
  await dropSteps(w, dealId, body.as, body.keep);
  for (const stored of await runsOfDeal(w, before)) {
    if (body.keep.includes(stored.id)) continue;
    const id = `deal:${dealId}:${body.as}`;
    await applyEvent(w, stored, { id, at: w.now, kind: 'deal-closed', as: body.as });
  }
  if (body.as === 'won' && body.handOnTo !== null) await handOn(w, before, body.handOnTo);
  const words = wordsOf(before, body);
  await tell(w, before, words);
  w.say(words);
}

async function assertReason(w: PersonWork, reason: string | null): Promise<void> {
  const { closeReasons } = await w.settings();
  if (!closeReasons.wonNeedsReason || reason !== null) return;
  const fields = [{ path: 'reason', message: $localize`must be filled in: say what won it` }];
  throw new Problem('invalid-request', {}, { fields });
}

type Winning = Extract<CloseDeal, { as: 'won' }>;

/** What winning brings with it: the brief is done, the value it came to, the agreement, the contact's standing. */
async function winWith(w: PersonWork, deal: Deal, body: Winning): Promise<void> {
  await tickPrompts(w, deal, body.tick);
  const prompts = deal.prompts.map((prompt) => ({
    ...prompt,
    isTicked: prompt.isTicked || body.tick.includes(prompt.id),
  }));
  assertTicked({ ...deal, prompts });
  if (body.amountMinor !== undefined && body.amountMinor !== deal.amountMinor) {
    await w.change('UPDATE deal SET amount_minor = :amount WHERE id = :id', {
      id: bytesOf(deal.id),
      amount: body.amountMinor,
    });
    const money = (amount: number) => sayMoney(amount, deal.currency);
    await tell(
      w,
      deal,
      $localize`Value: ${money(deal.amountMinor)}:amountMinor: → ${money(body.amountMinor)}:amountMinor2:`,
    );
  }
  await renewAgreements(w, { ...deal, amountMinor: body.amountMinor ?? deal.amountMinor }, body.renewed);
  const { contactId } = deal;
  if (contactId === null) {
    if (body.agreement === null) return;
    const fields = [
      { path: 'agreement', message: $localize`needs a person; say who the deal is with first` },
    ];
    throw new Problem('invalid-request', {}, { fields });
  }
  if (body.agreement !== null) await writeAgreement(w, { ...body.agreement, contactId, dealId: deal.id });
  if (body.standingId !== null) await moveStanding(w, contactId, body.standingId);
}

/**
 * Undoes a closing: the deal is as it was, with the tasks, cadences and standing it had; the agreement made with it is gone.
 * @throws Problem `cannot-undo` when it is not closed or was changed since
 */
export async function undoClose(services: Services, who: SignedIn, dealId: string): Promise<Deal> {
  const { database } = services;
  const deal = await readDeal(database, dealId, readAt(services, who));
  await assertMayChangeDeal({ ...database, who }, deal);
  const setId = await findSet(database, { table: 'deal', id: dealId, act: 'closeDeal' });
  if (setId === null || deal.status === 'open')
    throw new Problem('cannot-undo', { why: $localize`it is not closed` });
  await undoSet(services, who, setId);
  return readDeal(database, dealId, readAt(services, who));
}

/** Opens a deal again: its history stays, its patience starts anew, and it has a next step or a reason for none. */
export async function reopenDeal(w: PersonWork, dealId: string, body: Reopening): Promise<void> {
  const before = await lockDeal(w, { id: dealId, isOpen: false });
  const stage = await stageToReopen(w, before);
  await w.change(
    `UPDATE deal SET status = 'open', closed_on = NULL, close_reason = NULL, close_words = '', lost_to = NULL,
            wake_on = NULL, notches = IF(stage_id = :stage, notches, 0), stage_id = :stage, stage_since = :now, changed_at = :now,
            opened_at = :now
      WHERE id = :id`,
    { id: bytesOf(dealId), stage: bytesOf(stage.id), now: sqlInstant(w.now) },
  );
  if (body.withdrawAgreement) await withdrawAgreement(w, before);
  await reopenRenewed(w, before);
  const { contactId, companyId } = before;
  const back = body.bringBack ? await bringStepsBack(w, before) : 0;
  await writeFirstStep(w, { id: dealId, contactId, companyId, next: body.next });
  await enter(w, before, stage);
  const planned =
    back === 0
      ? ''
      : $localize`; ${sayCount(back, $localize`planned step is|planned steps are`)}:steps: back`;
  await tell(
    w,
    before,
    $localize`Deal “${before.name}:name:” opened again, ${before.status}:status: before${planned}:planned:`,
  );
  w.say($localize`${before.name}:name: opened again`);
}

/** Its own stage, or when that went meanwhile the one most like it. */
async function stageToReopen(tx: Queryable, deal: Deal): Promise<Stage> {
  const pipelines = await readPipelines(tx);
  const live = pipelines.flatMap(({ stages }) => stages);
  const was = (await readAllStages(tx)).get(deal.stageId)!;
  const same = live.find(({ id }) => id === was.id);
  const beside = live.filter(({ pipelineId }) => pipelineId === was.pipelineId);
  const found = same ?? stageLike(was, beside.length > 0 ? beside : live);
  if (found === null) throw new Problem('not-found');
  return found;
}

/**
 * Deletes the agreement made at winning, as long as nobody has changed it.
 * @throws Problem `cannot-undo`
 */
async function withdrawAgreement(w: PersonWork, deal: Deal): Promise<void> {
  const [made] = await w.rows<Row<'agreement', 'id' | 'version'>>(
    'SELECT id, version FROM agreement WHERE deal_id = :deal ORDER BY id DESC LIMIT 1 FOR UPDATE',
    { deal: bytesOf(deal.id) },
  );
  if (!made) return;
  if (made.version !== 1)
    throw new Problem('cannot-undo', { why: $localize`the agreement was changed since` });
  for (const part of ['agreement_line', 'agreement_change', 'agreement_term'])
    await w.change(`DELETE FROM ${part} WHERE agreement_id = :id`, { id: made.id });
  await w.change('DELETE FROM agreement WHERE id = :id', { id: made.id });
  await tell(w, deal, $localize`The agreement made at winning was withdrawn`);
}

function assertDay(body: CloseDeal, today: string): void {
  if (body.as !== 'parked' && body.on > today)
    throw new Problem(
      'in-the-future',
      {},
      { fields: [{ path: 'on', message: $localize`lies in the future` }] },
    );
  if (body.as === 'parked' && body.wakeOn <= today)
    throw new Problem(
      'in-the-past',
      {},
      { fields: [{ path: 'wakeOn', message: $localize`must be a day ahead` }] },
    );
}

function wordsOf(deal: Deal, body: CloseDeal): string {
  const reason = body.reason === null ? '' : `: ${body.reason}`;
  const to = body.as === 'lost' && body.lostTo !== null ? $localize`, to ${body.lostTo}:lostTo:` : '';
  const more = body.words === '' ? '' : `. ${body.words}`;
  const until = body.as === 'parked' ? $localize` until ${body.wakeOn}:wakeOn:` : '';
  return $localize`Deal “${deal.name}:name:” ${body.as}:as:${to}:to:${until}:until:${reason}:reason:${more}:more:`;
}

function tell(w: PersonWork, deal: Deal, body: string): Promise<void> {
  const { id: dealId, contactId, companyId } = deal;
  return writeSystemEntry(w, { body, dealId, contactId, companyId, userId: w.who.id });
}
