import type { BriefTaskPlan, Deal, DealFact, Stage } from '@kettle/contract';
import { dealFactLabel } from '@kettle/contract';
import { enterStage, leaveStage, missingFacts, type BriefTaskState } from '@kettle/core/deals';
import { localDate } from '@kettle/core/time';
import type { Queryable } from '../../platform/database/database';
import { sqlInstant } from '../../platform/database/values';
import { Problem } from '../../platform/problem';
import { bytesOf, idOf } from '../../platform/ids';
import { readCustomFields } from '../../records/fields/index';
import { writeSystemEntry } from '../../records/entries/index';
import { readAllStages } from '../../records/pipelines/index';
import type { PersonWork, Work } from '../../platform/work/work';
import { readPerson } from '../../records/users/index';
import { insertTasks } from '../../activity/tasks/index';
import type { Row } from '../../platform/database/schema.generated';

/**
 * Takes a deal from its stage to another: what the brief wants ticked, what the new stage wants known, the brief's tasks, the
 * stays, the journal. `before` is the deal in its old stage, `after` what is known of it now.
 * @throws Problem `brief-open`, `facts-needed`
 */
export async function changeStage(w: PersonWork, before: Deal, after: Deal, to: Stage): Promise<void> {
  if (before.stageId === to.id) return;
  const from = (await readAllStages(w)).get(before.stageId);
  if (from !== undefined && goesOn(from, to)) assertTicked(after);
  await assertFacts(w, to, after);
  await leave(w, before, $localize`the deal left ${from?.name ?? $localize`the stage`}:name:`);
  await w.change(
    'UPDATE deal SET stage_id = :stage, notches = 0, stage_since = :now, changed_at = :now WHERE id = :id',
    {
      id: bytesOf(before.id),
      stage: bytesOf(to.id),
      now: sqlInstant(w.now),
    },
  );
  await enter(w, after, to);
  const { id: dealId, contactId, companyId } = before;
  const body = `${from?.name ?? '?'} → ${to.name}`;
  await writeSystemEntry(w, { body, dealId, contactId, companyId, userId: w.who.id });
  w.say(`${before.name}: ${body}`);
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

const factsMissing = (to: Stage, deal: Deal) =>
  missingFacts(to.needs, {
    ...deal,
    roles: deal.people.map(({ role }) => role),
    lineCount: deal.lines.length,
  });

/** Whether a stage needs to know something of a deal that nobody said. */
export const lacksFacts = (to: Stage, deal: Deal): boolean => factsMissing(to, deal).length > 0;

async function assertFacts(tx: Queryable, to: Stage, deal: Deal): Promise<void> {
  const missing = factsMissing(to, deal);
  if (missing.length === 0) return;
  const names = await factNames(tx, missing);
  throw new Problem('facts-needed', { facts: names.join(', ') }, { current: { facts: missing } });
}

async function factNames(tx: Queryable, facts: readonly DealFact[]): Promise<string[]> {
  const fields = facts.some((fact) => fact.startsWith('custom:')) ? await readCustomFields(tx, 'deal') : [];
  const own = new Map(fields.map((field) => [`custom:${field.id}`, field.name]));
  return facts.map(
    (fact) => own.get(fact) ?? dealFactLabel[fact as keyof typeof dealFactLabel] ?? $localize`a field`,
  );
}

/** A deal has come into a stage: its stay begins, the brief's tasks are made or taken up again. */
export async function enter(w: PersonWork, deal: Deal, stage: Stage, hasTasks = true): Promise<void> {
  await beginStay(w, deal.id, stage.id);
  if (!hasTasks || stage.brief.tasks.length === 0) return;
  const owner = await readPerson(w, deal.ownerId);
  const calendar = w.services.calendars.of(owner, (await w.settings()).organisation);
  const known = await readBriefTasks(w, deal.id);
  const { make, renew } = enterStage(stage.brief.tasks, known, localDate(w.now, owner.zone), calendar);
  await makeTasks(w, deal, stage, make);
  for (const { briefTaskId, dueOn } of renew) {
    const key = { deal: bytesOf(deal.id), brief: bytesOf(briefTaskId) };
    await w.change(
      `UPDATE task t JOIN brief_task b ON b.task_id = t.id
          SET t.state = 'open', t.drop_reason = NULL, t.finished_at = NULL, t.due_on = :dueOn, t.version = t.version + 1
        WHERE b.deal_id = :deal AND b.brief_task_id = :brief`,
      { ...key, dueOn },
    );
    await w.change(
      `UPDATE brief_task b JOIN task t ON t.id = b.task_id
          SET b.made_as = ${madeAs}, b.is_withdrawn = FALSE, b.stage_id = :stage
        WHERE b.deal_id = :deal AND b.brief_task_id = :brief`,
      { ...key, stage: bytesOf(stage.id) },
    );
  }
}

/** What a task of a brief was made as: nobody has touched it while it still is. */
const madeAs = "MD5(CONCAT_WS('|', t.channel, t.purpose, t.due_on, t.minutes))";

async function makeTasks(
  w: PersonWork,
  deal: Deal,
  stage: Stage,
  make: readonly { readonly task: BriefTaskPlan; readonly dueOn: string }[],
): Promise<void> {
  const { ownerId, contactId, companyId, id: dealId } = deal;
  const ids = await insertTasks(
    w,
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
  );
  if (ids.length === 0) return;
  await w.change('INSERT INTO brief_task (deal_id, brief_task_id, stage_id, task_id) VALUES :rows', {
    rows: make.map(({ task }, index) => [
      bytesOf(dealId),
      bytesOf(task.id),
      bytesOf(stage.id),
      bytesOf(ids[index]),
    ]),
  });
  await w.change(
    `UPDATE brief_task b JOIN task t ON t.id = b.task_id SET b.made_as = ${madeAs} WHERE b.task_id IN (:ids)`,
    { ids: ids.map((id) => bytesOf(id)) },
  );
}

/**
 * A deal leaves its stage: the stay ends, tasks of the brief that nobody touched are withdrawn.
 * @param keep ids of tasks that stay all the same
 */
export async function leave(
  w: PersonWork,
  deal: Deal,
  reason: string,
  keep: readonly string[] = [],
): Promise<void> {
  await w.change('UPDATE stage_stay SET left_at = :now WHERE deal_id = :id AND left_at IS NULL', {
    id: bytesOf(deal.id),
    now: sqlInstant(w.now),
  });
  const known = await readBriefTasks(w, deal.id);
  const kept = new Set(
    known.filter(({ taskId }) => keep.includes(taskId)).map(({ briefTaskId }) => briefTaskId),
  );
  const ids = leaveStage(known).filter((id) => !kept.has(id));
  if (ids.length === 0) return;
  await w.change(
    `UPDATE task t JOIN brief_task b ON b.task_id = t.id
        SET t.state = 'dropped', t.drop_reason = :reason, t.finished_at = :now, t.version = t.version + 1,
            b.is_withdrawn = TRUE
      WHERE b.deal_id = :deal AND b.brief_task_id IN (:ids)`,
    { deal: bytesOf(deal.id), ids: ids.map((id) => bytesOf(id)), reason, now: sqlInstant(w.now) },
  );
}

async function beginStay(w: Work, dealId: string, stageId: string): Promise<void> {
  await w.change(
    `INSERT INTO stage_stay (deal_id, number, stage_id, entered_at)
     SELECT :deal, COALESCE(MAX(number), 0) + 1, :stage, :now FROM stage_stay WHERE deal_id = :deal`,
    { deal: bytesOf(dealId), stage: bytesOf(stageId), now: sqlInstant(w.now) },
  );
}

async function readBriefTasks(
  tx: Queryable,
  dealId: string,
): Promise<(BriefTaskState & { readonly taskId: string })[]> {
  const rows = await tx.rows<
    Row<'brief_task', 'brief_task_id' | 'task_id' | 'is_withdrawn'> &
      Row<'task', 'state'> & { is_as_made: number }
  >(
    `SELECT b.brief_task_id, b.task_id, t.state, b.made_as = ${madeAs} AS is_as_made, b.is_withdrawn
       FROM brief_task b JOIN task t ON t.id = b.task_id WHERE b.deal_id = :deal ORDER BY b.brief_task_id`,
    { deal: bytesOf(dealId) },
  );
  return rows.map((row) => ({
    briefTaskId: idOf(row.brief_task_id),
    taskId: idOf<string>(row.task_id),
    state: stateOf(row),
  }));
}

function stateOf(row: {
  state: 'open' | 'done' | 'dropped';
  is_as_made: number;
  is_withdrawn: number;
}): BriefTaskState['state'] {
  if (row.state === 'done') return 'done';
  if (row.is_as_made === 0) return 'touched';
  if (row.state === 'open') return 'untouched';
  return row.is_withdrawn === 1 ? 'withdrawn' : 'touched';
}
