import type { BriefTaskPlan, Deal, DealFact, Stage } from '@kettle/contract';
import { dealFactLabel } from '@kettle/contract';
import { enterStage, leaveStage, missingFacts, type BriefTaskState } from '@kettle/core/deals';
import { localDate } from '@kettle/core/time';
import type { Queryable } from '../../platform/database/database';
import { sqlInstant } from '../../platform/database/values';
import { Problem } from '../../platform/http/problem';
import { bytesOf, idOf, type IdBytes } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { readCustomFields } from '../../records/fields/custom-fields';
import { writeSystemEntry } from '../../activity/journal/write-entry';
import { readAllStages } from '../pipelines/read-pipelines';
import type { SignedIn } from '../../records/users/session';
import { readPerson } from '../../records/users/users';
import { insertTasks } from '../../activity/tasks/tasks';

export interface StageChange {
  readonly tx: Queryable;
  readonly services: Services;
  readonly who: SignedIn;
  readonly now: string;
}

/**
 * Takes a deal from its stage to another: what the brief wants ticked, what the new stage wants known, the brief's tasks, the
 * stays, the journal. `before` is the deal in its old stage, `after` what is known of it now.
 * @throws Problem `brief-open`, `facts-needed`
 */
export async function changeStage(change: StageChange, before: Deal, after: Deal, to: Stage): Promise<void> {
  if (before.stageId === to.id) return;
  const { tx, who, now } = change;
  const from = (await readAllStages(tx)).get(before.stageId);
  if (from !== undefined && goesOn(from, to)) assertTicked(after);
  await assertFacts(tx, to, after);
  await leave(change, before, `the deal left ${from?.name ?? 'the stage'}`);
  await tx.change('UPDATE deal SET stage_id = :stage, stage_since = :now, changed_at = :now WHERE id = :id', {
    id: bytesOf(before.id),
    stage: bytesOf(to.id),
    now: sqlInstant(now),
  });
  await enter(change, after, to);
  const { id: dealId, contactId, companyId } = before;
  const body = `${from?.name ?? '?'} → ${to.name}`;
  await writeSystemEntry(tx, { body, dealId, contactId, companyId, userId: who.id, now });
}

/** Back is always free, and so is another pipeline: its stages are not in one order with these. */
const goesOn = (from: Stage, to: Stage) => from.pipelineId === to.pipelineId && to.position > from.position;

/** What must be ticked before a deal goes on is ticked. @throws Problem `brief-open` with the prompts */
export function assertTicked(deal: Deal): void {
  const open = deal.prompts.filter(({ isRequired, isTicked }) => isRequired && !isTicked);
  if (open.length === 0) return;
  const prompts = open.map(({ text }) => `“${text}”`).join(', ');
  throw new Problem('brief-open', { prompts }, { current: { prompts: open } });
}

async function assertFacts(tx: Queryable, to: Stage, deal: Deal): Promise<void> {
  const missing = missingFacts(to.needs, {
    ...deal,
    roles: deal.people.map(({ role }) => role),
    lineCount: deal.lines.length,
  });
  if (missing.length === 0) return;
  const names = await factNames(tx, missing);
  throw new Problem('facts-needed', { facts: names.join(', ') }, { current: { facts: missing } });
}

async function factNames(tx: Queryable, facts: readonly DealFact[]): Promise<string[]> {
  const fields = facts.some((fact) => fact.startsWith('custom:')) ? await readCustomFields(tx, 'deal') : [];
  const own = new Map(fields.map((field) => [`custom:${field.id}`, field.name]));
  return facts.map((fact) => own.get(fact) ?? dealFactLabel[fact as keyof typeof dealFactLabel] ?? 'a field');
}

/** A deal has come into a stage: its stay begins, the brief's tasks are made or taken up again. */
export async function enter(change: StageChange, deal: Deal, stage: Stage): Promise<void> {
  const { tx, now } = change;
  await beginStay(tx, deal.id, stage.id, now);
  if (stage.brief.tasks.length === 0) return;
  const owner = await readPerson(tx, deal.ownerId);
  const calendar = change.services.calendars.of(owner.country, owner.zone, owner.hours);
  const known = await readBriefTasks(tx, deal.id);
  const { make, renew } = enterStage(stage.brief.tasks, known, localDate(now, owner.zone), calendar);
  await makeTasks(change, deal, stage, make);
  for (const { briefTaskId, dueOn } of renew) {
    const key = { deal: bytesOf(deal.id), brief: bytesOf(briefTaskId) };
    await tx.change(
      `UPDATE task t JOIN brief_task b ON b.task_id = t.id
          SET t.state = 'open', t.drop_reason = NULL, t.finished_at = NULL, t.due_on = :dueOn, t.version = t.version + 1,
              b.untouched_version = t.version + 1, b.stage_id = :stage
        WHERE b.deal_id = :deal AND b.brief_task_id = :brief`,
      { ...key, dueOn, stage: bytesOf(stage.id) },
    );
  }
}

async function makeTasks(
  { tx, now }: StageChange,
  deal: Deal,
  stage: Stage,
  make: readonly { readonly task: BriefTaskPlan; readonly dueOn: string }[],
): Promise<void> {
  const { ownerId, contactId, companyId, id: dealId } = deal;
  const ids = await insertTasks(
    tx,
    make.map(({ task: { channel, purpose, minutes }, dueOn }) => {
      return {
        channel,
        purpose,
        minutes,
        dueOn,
        promisedAt: null,
        ownerId,
        contactId,
        companyId,
        dealId,
        run: null,
      };
    }),
    now,
  );
  if (ids.length === 0) return;
  await tx.change(
    'INSERT INTO brief_task (deal_id, brief_task_id, stage_id, task_id, untouched_version) VALUES :rows',
    {
      rows: make.map(({ task }, index) => [
        bytesOf(dealId),
        bytesOf(task.id),
        bytesOf(stage.id),
        bytesOf(ids[index]!),
        1,
      ]),
    },
  );
}

/** A deal leaves its stage: the stay ends, tasks of the brief that nobody touched are withdrawn. */
export async function leave({ tx, now }: StageChange, deal: Deal, reason: string): Promise<void> {
  await tx.change('UPDATE stage_stay SET left_at = :now WHERE deal_id = :id AND left_at IS NULL', {
    id: bytesOf(deal.id),
    now: sqlInstant(now),
  });
  const known = await readBriefTasks(tx, deal.id);
  const ids = leaveStage(known);
  if (ids.length === 0) return;
  await tx.change(
    `UPDATE task t JOIN brief_task b ON b.task_id = t.id
        SET t.state = 'dropped', t.drop_reason = :reason, t.finished_at = :now, t.version = t.version + 1,
            b.untouched_version = t.version + 1
      WHERE b.deal_id = :deal AND b.brief_task_id IN (:ids)`,
    { deal: bytesOf(deal.id), ids: ids.map((id) => bytesOf(id)), reason, now: sqlInstant(now) },
  );
}

async function beginStay(tx: Queryable, dealId: string, stageId: string, now: string): Promise<void> {
  await tx.change(
    `INSERT INTO stage_stay (deal_id, number, stage_id, entered_at)
     SELECT :deal, COALESCE(MAX(number), 0) + 1, :stage, :now FROM stage_stay WHERE deal_id = :deal`,
    { deal: bytesOf(dealId), stage: bytesOf(stageId), now: sqlInstant(now) },
  );
}

async function readBriefTasks(tx: Queryable, dealId: string): Promise<BriefTaskState[]> {
  const rows = await tx.rows<{
    brief_task_id: IdBytes;
    state: 'open' | 'done' | 'dropped';
    version: number;
    untouched_version: number;
  }>(
    `SELECT b.brief_task_id, t.state, t.version, b.untouched_version FROM brief_task b JOIN task t ON t.id = b.task_id
      WHERE b.deal_id = :deal ORDER BY b.brief_task_id`,
    { deal: bytesOf(dealId) },
  );
  return rows.map((row) => {
    const isAsLeft = row.version === row.untouched_version;
    const untouched = row.state === 'open' ? 'untouched' : 'withdrawn';
    const state = row.state === 'done' ? 'done' : isAsLeft ? untouched : 'touched';
    return { briefTaskId: idOf(row.brief_task_id), state };
  });
}
