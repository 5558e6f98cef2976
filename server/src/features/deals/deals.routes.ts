import type { DealId, DealRow } from '@kettle/contract';
import { sqlInstant, wholeNumber } from '../../db/values';
import type { Handlers } from '../../http/bind-routes';
import { Problem } from '../../http/problem';
import { bytesOf, idOrNull, newId, type IdBytes } from '../../ids';
import type { Services } from '../../services';
import { noteChange } from '../changes/feed';
import { refreshNextSteps } from '../journal/next-steps';
import { writeSystemEntry } from '../journal/write-entry';
import { assertMayChange } from '../session/rights';
import { todayOf } from '../session/today';
import { closeDeal, reopenDeal } from './close-deal';
import { readDeal, readDealRows, readPipelines } from './deal-rows';
import { writeFirstStep } from './first-step';
import { moveDeal } from './move-deal';
import { assertStage, noteStageChange } from './stages';

type Names =
  | 'listDeals'
  | 'listPipelines'
  | 'createDeal'
  | 'getDeal'
  | 'changeDeal'
  | 'moveDeal'
  | 'closeDeal'
  | 'reopenDeal';

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
        await noteStageChange(tx, who, before, body.stageId, now);
        await noteChange(tx, 'deal', params.id, who.id);
      });
      feed.poke();
      return readDeal(database, params.id, todayOf(services, who));
    },
    moveDeal: ({ params, body, who }) => moveDeal(services, who, params.id, body),
    closeDeal: ({ params, body, who }) => closeDeal(services, who, params.id, body),
    reopenDeal: ({ params, body, who }) => reopenDeal(services, who, params.id, body),
  };
}

function isShown(row: DealRow, show: 'all' | 'late' | 'today' | 'held' | 'loose' | 'stalled'): boolean {
  if (show === 'all') return true;
  return show === 'stalled' ? row.stalledDays > 0 : row.tetherState === show;
}
