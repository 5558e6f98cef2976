import type { CloseDeal, Deal, reopenDeal as reopening, Stage } from '@kettle/contract';
import { stageLike } from '@kettle/core/deals';
import { sayMoney } from '@kettle/core/money';
import { localDate } from '@kettle/core/time';
import type * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import { sqlInstant } from '../../platform/database/values';
import { Problem } from '../../platform/http/problem';
import { bytesOf, idOf, newId, type IdBytes } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { writeAgreement } from '../agreements/write-agreement';
import { applyEvent } from '../cadences/apply-event';
import { readRunsOf } from '../cadences/run-rows';
import { noteChange } from '../../platform/change-feed/feed';
import { refreshNextSteps } from '../../activity/touch/next-steps';
import { refreshTouchFacts } from '../../activity/touch/touch-facts';
import { keepForUndo, takeSnapshot, undoInside, type StandingMove } from '../../activity/journal/undo';
import { writeSystemEntry } from '../../activity/journal/write-entry';
import type { SignedIn } from '../../records/users/session';
import { todayOf } from '../../records/users/today';
import { moveStanding } from '../../records/contacts/move-standing';
import { readAllStages, readPipelines } from '../pipelines/read-pipelines';
import { tickPrompts } from './change-deal';
import { readDeal } from './deal-rows';
import { writeFirstStep } from './first-step';
import { assertMayChangeDeal, lockDeal } from './lock-deal';
import { assertTicked, enter, leave } from './stages';

type Reopening = z.output<typeof reopening>;

/** Takes a deal off the lanes: won or lost on a day that is not ahead, or parked until one that is. */
export async function closeDeal(
  services: Services,
  who: SignedIn,
  dealId: string,
  body: CloseDeal,
): Promise<Deal> {
  const { database, clock, feed } = services;
  const now = clock.now();
  await database.transaction(async (tx) => {
    assertDay(body, localDate(now, who.zone));
    const before = await lockDeal(tx, services, who, { id: dealId, version: body.version, isOpen: true });
    const concerned = { contactId: before.contactId, dealId, isWholeDeal: true };
    const snapshot = await takeSnapshot(tx, concerned);
    const standing = body.as === 'won' ? await winWith(tx, services, who, before, body, now) : null;
    await tx.change(
      `UPDATE deal SET status = :as, closed_on = :on, close_reason = :reason, close_words = :words, lost_to = :lostTo,
              wake_on = :wakeOn, loose_since = NULL
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
    await leave({ tx, services, who, now }, before, `the deal was ${body.as}`);
    await dropOpenTasks(tx, dealId, `the deal was ${body.as}`, now);
    if (before.contactId !== null)
      await endRuns(tx, services, { as: body.as, contactId: before.contactId, dealId, who, now });
    const entryId = newId<string>();
    await tell(tx, who, before, wordsOf(before, body), now, entryId);
    await refreshNextSteps(tx, { contactIds: [before.contactId], dealIds: [] }, now);
    await keepForUndo(tx, { entryId, userId: who.id, before: snapshot, concerned, standing, now });
    await noteChange(tx, 'deal', dealId, who.id);
  });
  feed.poke();
  return readDeal(database, dealId, todayOf(services, who));
}

type Winning = Extract<CloseDeal, { as: 'won' }>;

/** What winning brings with it: the brief is done, the value it came to, the agreement, the contact's standing. */
async function winWith(
  tx: Queryable,
  services: Services,
  who: SignedIn,
  deal: Deal,
  body: Winning,
  now: string,
): Promise<StandingMove | null> {
  await tickPrompts(tx, who, deal, body.tick, now);
  const prompts = deal.prompts.map((prompt) => ({
    ...prompt,
    isTicked: prompt.isTicked || body.tick.includes(prompt.id),
  }));
  assertTicked({ ...deal, prompts });
  if (body.amountMinor !== undefined && body.amountMinor !== deal.amountMinor) {
    await tx.change('UPDATE deal SET amount_minor = :amount WHERE id = :id', {
      id: bytesOf(deal.id),
      amount: body.amountMinor,
    });
    const money = (amount: number) => sayMoney(amount, deal.currency);
    await tell(tx, who, deal, `Value: ${money(deal.amountMinor)} → ${money(body.amountMinor)}`, now);
  }
  const { contactId } = deal;
  if (contactId === null) {
    if (body.agreement === null) return null;
    const fields = [{ path: 'agreement', message: 'needs a person; say who the deal is with first' }];
    throw new Problem('invalid-request', {}, { fields });
  }
  if (body.agreement !== null)
    await writeAgreement(tx, services, who, { ...body.agreement, contactId, dealId: deal.id }, now);
  if (body.standingId === null) return null;
  const moved = await moveStanding(tx, who, contactId, body.standingId, now);
  if (moved !== null) await refreshTouchFacts(tx, services, await services.settings.read(tx), contactId);
  return moved;
}

/**
 * Takes a closing back, by whoever closed: the deal stands where it stood, with the tasks, cadences and standing it had; the
 * agreement made with it goes. Nothing of it may have been changed since.
 * @throws Problem `cannot-undo`, `not-found` for another person's closing, `stale`
 */
export async function undoClose(
  services: Services,
  who: SignedIn,
  dealId: string,
  version: number,
): Promise<Deal> {
  const { database, clock, feed } = services;
  await database.transaction(async (tx) => {
    const now = clock.now();
    const key = { deal: bytesOf(dealId), now: sqlInstant(now) };
    const closed = await readClosing(tx, services, who, dealId, version);
    // Versions of what a stage brief made, before they go up: what nobody had touched is as untouched again.
    const untouched = await tx.rows<{ brief_task_id: IdBytes }>(
      `SELECT b.brief_task_id FROM brief_task b JOIN task t ON t.id = b.task_id
        WHERE b.deal_id = :deal AND t.version = b.untouched_version ORDER BY b.brief_task_id`,
      key,
    );
    await undoInside(tx, services, who, closed.entryId);
    if (untouched.length > 0)
      await tx.change(
        `UPDATE brief_task b JOIN task t ON t.id = b.task_id SET b.untouched_version = t.version
          WHERE b.deal_id = :deal AND b.brief_task_id IN (:ids)`,
        { ...key, ids: untouched.map((row) => row.brief_task_id) },
      );
    await tx.change(
      'UPDATE stage_stay SET left_at = NULL WHERE deal_id = :deal ORDER BY number DESC LIMIT 1',
      key,
    );
    await withdrawAgreement(tx, who, closed.deal, now, closed.at);
    await tell(tx, who, closed.deal, `Closing taken back: it was ${closed.deal.status}`, now);
    await noteChange(tx, 'deal', dealId, who.id);
  });
  feed.poke();
  return readDeal(database, dealId, todayOf(services, who));
}

/** The closing of a deal that is closed, and the entry it was written with. Locks the deal. */
async function readClosing(
  tx: Queryable,
  services: Services,
  who: SignedIn,
  dealId: string,
  version: number,
): Promise<{ readonly deal: Deal; readonly entryId: string; readonly at: string }> {
  await tx.rows('SELECT 1 FROM deal WHERE id = :id FOR UPDATE', { id: bytesOf(dealId) });
  const deal = await readDeal(tx, dealId, todayOf(services, who));
  await assertMayChangeDeal(tx, who, deal);
  if (deal.version !== version) throw new Problem('stale', {}, { current: deal });
  const [entry] = await tx.rows<{ entry_id: IdBytes; created_at: string }>(
    `SELECT u.entry_id, u.created_at FROM undo_step u JOIN journal_entry j ON j.id = u.entry_id
      WHERE j.deal_id = :deal AND j.kind = 'system' AND u.undone_at IS NULL ORDER BY u.created_at DESC, u.entry_id DESC LIMIT 1`,
    { deal: bytesOf(dealId) },
  );
  if (!entry || deal.status === 'open') throw new Problem('cannot-undo');
  return { deal, entryId: idOf(entry.entry_id), at: entry.created_at };
}

/** Opens a deal again: its history stays, its patience starts anew, and it has a next step or a reason for none. */
export async function reopenDeal(
  services: Services,
  who: SignedIn,
  dealId: string,
  body: Reopening,
): Promise<Deal> {
  const { database, clock, feed } = services;
  const now = clock.now();
  await database.transaction(async (tx) => {
    const before = await lockDeal(tx, services, who, { id: dealId, version: body.version, isOpen: false });
    const stage = await stageToReopen(tx, before);
    await tx.change(
      `UPDATE deal SET status = 'open', closed_on = NULL, close_reason = NULL, close_words = '', lost_to = NULL,
              wake_on = NULL, stage_id = :stage, stage_since = :now, changed_at = :now
        WHERE id = :id`,
      { id: bytesOf(dealId), stage: bytesOf(stage.id), now: sqlInstant(now) },
    );
    if (body.withdrawAgreement) await withdrawAgreement(tx, who, before, now);
    const { contactId, companyId } = before;
    await writeFirstStep(tx, who, { id: dealId, contactId, companyId, next: body.next }, now);
    await enter({ tx, services, who, now }, before, stage);
    await tell(tx, who, before, `Deal “${before.name}” opened again, ${before.status} before`, now);
    await refreshNextSteps(tx, { contactIds: [contactId], dealIds: [dealId] }, now);
    await noteChange(tx, 'deal', dealId, who.id);
  });
  feed.poke();
  return readDeal(database, dealId, todayOf(services, who));
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
 * The agreement made at winning goes as well, as long as nobody has changed it.
 * @param madeAt when it must have been made; left out, the deal's newest goes
 * @throws Problem `cannot-undo`
 */
async function withdrawAgreement(
  tx: Queryable,
  who: SignedIn,
  deal: Deal,
  now: string,
  madeAt: string | null = null,
): Promise<void> {
  const [made] = await tx.rows<{ id: IdBytes; version: number }>(
    `SELECT id, version FROM agreement WHERE deal_id = :deal AND (:madeAt IS NULL OR created_at = :madeAt)
      ORDER BY id DESC LIMIT 1 FOR UPDATE`,
    { deal: bytesOf(deal.id), madeAt },
  );
  if (!made) return;
  if (made.version !== 1) throw new Problem('cannot-undo');
  await tx.change('DELETE FROM agreement WHERE id = :id', { id: made.id });
  await tell(tx, who, deal, 'The agreement made at winning was withdrawn', now);
  await noteChange(tx, 'agreement', idOf(made.id), who.id);
}

function assertDay(body: CloseDeal, today: string): void {
  if (body.as !== 'parked' && body.on > today)
    throw new Problem('in-the-future', {}, { fields: [{ path: 'on', message: 'lies in the future' }] });
  if (body.as === 'parked' && body.wakeOn <= today)
    throw new Problem('in-the-past', {}, { fields: [{ path: 'wakeOn', message: 'must be a day ahead' }] });
}

function wordsOf(deal: Deal, body: CloseDeal): string {
  const reason = body.reason === null ? '' : `: ${body.reason}`;
  const to = body.as === 'lost' && body.lostTo !== null ? `, to ${body.lostTo}` : '';
  const more = body.words === '' ? '' : `. ${body.words}`;
  const until = body.as === 'parked' ? ` until ${body.wakeOn}` : '';
  return `Deal “${deal.name}” ${body.as}${to}${until}${reason}${more}`;
}

function tell(
  tx: Queryable,
  who: SignedIn,
  deal: Deal,
  body: string,
  now: string,
  id: string = newId<string>(),
): Promise<void> {
  const { id: dealId, contactId, companyId } = deal;
  return writeSystemEntry(tx, { id, body, dealId, contactId, companyId, userId: who.id, now });
}

async function dropOpenTasks(tx: Queryable, dealId: string, reason: string, now: string): Promise<void> {
  await tx.change(
    `UPDATE task SET state = 'dropped', drop_reason = :reason, finished_at = :now, version = version + 1
      WHERE deal_id = :id AND state = 'open'`,
    { id: bytesOf(dealId), reason, now: sqlInstant(now) },
  );
}

/** Runs that chase this deal, or chase the person for no deal in particular, have lost their purpose. */
async function endRuns(
  tx: Queryable,
  services: Services,
  close: { as: CloseDeal['as']; contactId: string; dealId: string; who: SignedIn; now: string },
): Promise<void> {
  const settings = await services.settings.read(tx);
  for (const stored of await readRunsOf(tx, close.contactId, 'active')) {
    if (stored.dealId !== null && stored.dealId !== close.dealId) continue;
    const event = {
      id: `deal:${close.dealId}:${close.as}`,
      at: close.now,
      kind: 'deal-closed',
      as: close.as,
    } as const;
    await applyEvent(tx, services, settings, stored, event, close.who.id);
  }
}
