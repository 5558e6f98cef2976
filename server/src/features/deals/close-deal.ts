import type { closeDeal as closing, Deal, reopenDeal as reopening } from '@kettle/contract';
import { localDate } from '@kettle/core/time';
import type * as z from 'zod';
import type { Queryable } from '../../db/database';
import { sqlInstant } from '../../db/values';
import { Problem } from '../../http/problem';
import { bytesOf } from '../../ids';
import type { Services } from '../../services';
import { applyEvent } from '../cadences/apply-event';
import { readRunsOf } from '../cadences/run-rows';
import { noteChange } from '../changes/feed';
import { refreshNextSteps } from '../journal/next-steps';
import { writeSystemEntry } from '../journal/write-entry';
import { assertMayChange } from '../session/rights';
import type { SignedIn } from '../session/session';
import { todayOf } from '../session/today';
import { readDeal } from './deal-rows';
import { writeFirstStep } from './first-step';

type Closing = z.output<typeof closing>;
type Reopening = z.output<typeof reopening>;

/** Takes a deal off the lanes: won or lost on a day that is not ahead, or parked until one that is. */
export async function closeDeal(
  services: Services,
  who: SignedIn,
  dealId: string,
  body: Closing,
): Promise<Deal> {
  const { database, clock, feed } = services;
  const now = clock.now();
  await database.transaction(async (tx) => {
    const before = await readDeal(tx, dealId, todayOf(services, who));
    await assertMayChange(tx, who, before.ownerId);
    assertDay(body, localDate(now, who.zone));
    const changed = await tx.change(
      `UPDATE deal SET status = :as, closed_on = :on, close_reason = :reason, wake_on = :wakeOn, loose_since = NULL,
              version = version + 1
        WHERE id = :id AND version = :version AND status = 'open'`,
      {
        id: bytesOf(dealId),
        version: body.version,
        as: body.as,
        on: body.as === 'parked' ? null : body.on,
        wakeOn: body.as === 'parked' ? body.wakeOn : null,
        reason: body.as === 'won' ? null : body.reason,
      },
    );
    if (changed === 0) throw new Problem('stale', {}, { current: before });
    await dropOpenTasks(tx, dealId, `the deal was ${body.as}`, now);
    if (before.contactId !== null)
      await endRuns(tx, services, { as: body.as, contactId: before.contactId, dealId, who, now });
    await tell(tx, who, before, wordsOf(before, body), now);
    await refreshNextSteps(tx, { contactIds: [before.contactId], dealIds: [] }, now);
    await noteChange(tx, 'deal', dealId, who.id);
  });
  feed.poke();
  return readDeal(database, dealId, todayOf(services, who));
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
    const before = await readDeal(tx, dealId, todayOf(services, who));
    await assertMayChange(tx, who, before.ownerId);
    const changed = await tx.change(
      `UPDATE deal SET status = 'open', closed_on = NULL, close_reason = NULL, wake_on = NULL, moved_at = :now,
              version = version + 1
        WHERE id = :id AND version = :version AND status <> 'open'`,
      { id: bytesOf(dealId), version: body.version, now: sqlInstant(now) },
    );
    if (changed === 0) throw new Problem('stale', {}, { current: before });
    const { contactId, companyId } = before;
    await writeFirstStep(tx, who, { id: dealId, contactId, companyId, next: body.next }, now);
    await tell(tx, who, before, `Deal “${before.name}” opened again, ${before.status} before`, now);
    await refreshNextSteps(tx, { contactIds: [contactId], dealIds: [dealId] }, now);
    await noteChange(tx, 'deal', dealId, who.id);
  });
  feed.poke();
  return readDeal(database, dealId, todayOf(services, who));
}

function assertDay(body: Closing, today: string): void {
  if (body.as !== 'parked' && body.on > today)
    throw new Problem('in-the-future', {}, { fields: [{ path: 'on', message: 'lies in the future' }] });
  if (body.as === 'parked' && body.wakeOn <= today)
    throw new Problem('in-the-past', {}, { fields: [{ path: 'wakeOn', message: 'must be a day ahead' }] });
}

function wordsOf(deal: Deal, body: Closing): string {
  const reason = body.as === 'won' ? '' : `: ${body.reason}`;
  const until = body.as === 'parked' ? ` until ${body.wakeOn}` : '';
  return `Deal “${deal.name}” ${body.as}${until}${reason}`;
}

function tell(tx: Queryable, who: SignedIn, deal: Deal, body: string, now: string): Promise<void> {
  const { id: dealId, contactId, companyId } = deal;
  return writeSystemEntry(tx, { body, dealId, contactId, companyId, userId: who.id, now });
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
  close: { as: Closing['as']; contactId: string; dealId: string; who: SignedIn; now: string },
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
