import type { DealId, DealRow, NextStep } from '@kettle/contract';
import { localDate } from '@kettle/core/time';
import type { Queryable } from '../../db/database';
import { sqlInstant, wholeNumber } from '../../db/values';
import type { Handlers } from '../../http/bind-routes';
import { Problem } from '../../http/problem';
import { bytesOf, idOrNull, newId, type IdBytes } from '../../ids';
import type { Services } from '../../services';
import { readRunsOf } from '../cadences/run-rows';
import { applyEvent } from '../cadences/apply-event';
import { noteChange } from '../changes/feed';
import { promisedInstant } from '../journal/log-act';
import { refreshNextSteps } from '../journal/next-steps';
import { writeSystemEntry } from '../journal/write-entry';
import { assertMayChange } from '../session/rights';
import type { SignedIn } from '../session/session';
import { todayOf } from '../session/today';
import { insertTasks } from '../tasks/tasks';
import { readDeal, readDealRows, readPipelines } from './deal-rows';

type Names = 'listDeals' | 'listPipelines' | 'createDeal' | 'getDeal' | 'changeDeal' | 'closeDeal';

export function dealsRoutes(services: Services): Pick<Handlers, Names> {
  const { database, clock, feed, settings } = services;
  return {
    listPipelines: async () => ({ pipelines: await readPipelines(database) }),
    getDeal: ({ params, who }) => readDeal(database, params.id, todayOf(services, who)),
    listDeals: async ({ query, who }) => {
      const where = ["d.status = 'open'"];
      if (query.owner === 'mine') where.push('d.owner_id = :me');
      if (query.pipeline !== undefined) where.push('s.pipeline_id = :pipeline');
      const parameters = { me: bytesOf(who.id), pipeline: bytesOf(query.pipeline) };
      const all = await readDealRows(database, where.join(' AND '), parameters, todayOf(services, who));
      const rows = all.filter((row) => isShown(row, query.show));
      const [count] = await database.rows<{ open: string }>(
        "SELECT COUNT(*) AS open FROM deal WHERE status = 'open'",
      );
      return {
        pipelines: await readPipelines(database),
        rows,
        hidden: wholeNumber(count?.open ?? 0) - rows.length,
      };
    },
    createDeal: async ({ body, who }) => {
      const id = newId<DealId>();
      const now = clock.now();
      await database.transaction(async (tx) => {
        const [contact] = await tx.rows<{ company_id: IdBytes | null; owner_id: IdBytes | null }>(
          'SELECT company_id, owner_id FROM contact WHERE id = :id',
          { id: bytesOf(body.contactId) },
        );
        if (!contact) throw new Problem('not-found');
        await assertMayChange(tx, who, idOrNull(contact.owner_id));
        await assertStage(tx, body.stageId);
        const { organisation } = await settings.read(tx);
        await tx.change(
          `INSERT INTO deal (id, name, company_id, contact_id, stage_id, owner_id, amount_minor, currency,
              expected_close_on, stage_since, moved_at, created_at)
           VALUES (:id, :name, :company, :contact, :stage, :owner, :amount, :currency, :close, :now, :now, :now)`,
          {
            id: bytesOf(id),
            name: body.name,
            company: contact.company_id,
            contact: bytesOf(body.contactId),
            stage: bytesOf(body.stageId),
            owner: bytesOf(who.id),
            amount: body.amountMinor,
            currency: organisation.currency,
            close: body.expectedCloseOn,
            now: sqlInstant(now),
          },
        );
        await writeFirstStep(tx, who, { ...body, id, companyId: idOrNull(contact.company_id) }, now);
        const about = {
          contactId: body.contactId,
          companyId: idOrNull<string>(contact.company_id),
          dealId: id,
          userId: who.id,
        };
        await writeSystemEntry(tx, { ...about, body: `Deal “${body.name}” made`, now });
        await refreshNextSteps(tx, { contactIds: [body.contactId], dealIds: [id] }, now);
        await noteChange(tx, 'deal', id, who.id);
      });
      feed.poke();
      return readDeal(database, id, todayOf(services, who));
    },
    changeDeal: async ({ params, body, who }) => {
      const now = clock.now();
      await database.transaction(async (tx) => {
        const before = await readDeal(tx, params.id, todayOf(services, who));
        await assertMayChange(tx, who, before.ownerId);
        await assertStage(tx, body.stageId);
        // Stage, amount and close date are real changes: patience counts from now. Assignments read the old values first.
        const changed = await tx.change(
          `UPDATE deal SET
              moved_at = IF(stage_id <> :stage OR amount_minor <> :amount OR NOT (expected_close_on <=> :close), :now, moved_at),
              stage_since = IF(stage_id <> :stage, :now, stage_since),
              name = :name, stage_id = :stage, amount_minor = :amount, expected_close_on = :close,
              win_probability = :probability, version = version + 1
            WHERE id = :id AND version = :version AND status = 'open'`,
          {
            id: bytesOf(params.id),
            version: body.version,
            name: body.name,
            stage: bytesOf(body.stageId),
            amount: body.amountMinor,
            close: body.expectedCloseOn,
            probability: body.winProbability,
            now: sqlInstant(now),
          },
        );
        if (changed === 0) throw new Problem('stale', {}, { current: before });
        const stageChange =
          before.stageId !== body.stageId ? await sayStageChange(tx, before.stageId, body.stageId) : null;
        if (stageChange !== null)
          await writeSystemEntry(tx, {
            body: stageChange,
            dealId: params.id,
            contactId: before.contactId,
            companyId: before.companyId,
            userId: who.id,
            now,
          });
        await noteChange(tx, 'deal', params.id, who.id);
      });
      feed.poke();
      return readDeal(database, params.id, todayOf(services, who));
    },
    closeDeal: async ({ params, body, who }) => {
      const now = clock.now();
      await database.transaction(async (tx) => {
        const before = await readDeal(tx, params.id, todayOf(services, who));
        await assertMayChange(tx, who, before.ownerId);
        if (body.on > localDate(now, who.zone))
          throw new Problem('in-the-future', {}, { fields: [{ path: 'on', message: 'lies in the future' }] });
        const reason = body.as === 'lost' ? body.reason : null;
        const changed = await tx.change(
          `UPDATE deal SET status = :as, closed_on = :on, close_reason = :reason, loose_since = NULL, version = version + 1
            WHERE id = :id AND version = :version AND status = 'open'`,
          { id: bytesOf(params.id), version: body.version, as: body.as, on: body.on, reason },
        );
        if (changed === 0) throw new Problem('stale', {}, { current: before });
        await dropOpenTasks(tx, params.id, `the deal was ${body.as}`, now);
        if (before.contactId !== null)
          await endRuns(tx, services, { ...body, contactId: before.contactId, dealId: params.id, who, now });
        const words = `Deal “${before.name}” ${body.as}${reason === null ? '' : `: ${reason}`}`;
        await writeSystemEntry(tx, {
          body: words,
          dealId: params.id,
          contactId: before.contactId,
          companyId: before.companyId,
          userId: who.id,
          now,
        });
        await refreshNextSteps(tx, { contactIds: [before.contactId], dealIds: [] }, now);
        await noteChange(tx, 'deal', params.id, who.id);
      });
      feed.poke();
      return readDeal(database, params.id, todayOf(services, who));
    },
  };
}

function isShown(row: DealRow, show: 'all' | 'late' | 'today' | 'held' | 'loose' | 'stalled'): boolean {
  if (show === 'all') return true;
  return show === 'stalled' ? row.stalledDays > 0 : row.tetherState === show;
}

async function assertStage(tx: Queryable, stageId: string): Promise<void> {
  const found = await tx.rows('SELECT 1 FROM stage WHERE id = :id', { id: bytesOf(stageId) });
  if (found.length === 0)
    throw new Problem(
      'invalid-request',
      {},
      { fields: [{ path: 'stageId', message: 'is not a stage; choose one from the list' }] },
    );
}

interface FirstStep {
  readonly id: DealId;
  readonly contactId: string;
  readonly companyId: string | null;
  readonly next: NextStep;
}

async function writeFirstStep(tx: Queryable, who: SignedIn, deal: FirstStep, now: string): Promise<void> {
  const { next } = deal;
  if (next.kind === 'none' && next.reason.trim() === '')
    throw new Problem(
      'reason-needed',
      {},
      { fields: [{ path: 'next.reason', message: 'say why there is none' }] },
    );
  if (next.kind !== 'task') return;
  if (next.dueOn < localDate(now, who.zone))
    throw new Problem('in-the-past', {}, { fields: [{ path: 'next.dueOn', message: 'lies in the past' }] });
  const about = {
    ownerId: who.id,
    contactId: deal.contactId,
    companyId: deal.companyId,
    dealId: deal.id,
    run: null,
  };
  const { channel, purpose, dueOn, minutes } = next;
  await insertTasks(
    tx,
    [{ channel, purpose, dueOn, minutes, promisedAt: promisedInstant(next, who), ...about }],
    now,
  );
}

async function sayStageChange(tx: Queryable, from: string, to: string): Promise<string> {
  const stages = (await readPipelines(tx)).flatMap((pipeline) => pipeline.stages);
  const nameOf = (id: string) => stages.find((stage) => stage.id === id)?.name ?? '?';
  return `${nameOf(from)} → ${nameOf(to)}`;
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
  close: { as: 'won' | 'lost'; contactId: string; dealId: string; who: SignedIn; now: string },
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
