import type { Deal } from '@kettle/contract';
import { isBriefDone } from '@kettle/core/deals';
import { nameKey } from '@kettle/core/duplicates';
import { bytesOf, type IdBytes, idOf } from '../../platform/ids';
import type { PersonWork, Reaction } from '../../platform/work/work';
import { idBytesOfKey, idOfHex, type Written } from '../../platform/work/written';
import { readPipelines } from '../../records/pipelines/index';
import { readAt } from '../../records/users/index';
import { changeDeal, tickPrompts } from './change-deal';
import { readDeal } from './deal-rows';
import { mayChangeDeal } from './lock-deal';
import { lacksFacts } from './stages';

/**
 * Where a pipeline takes deals on by itself: once the last of what a stage asks for was done, the deal is in the next stage, in the same
 * change. What that stage needs to know keeps it where it is, and so does the last stage: winning is a person's word.
 */
export const moveOnWhenDone: Reaction = async (w, written) => {
  if (w.isUndo || w.who === null) return;
  const person = w as PersonWork;
  for (const id of await dealsWithMoreDone(person, written)) {
    const deal = await readDeal(w, id, readAt(w.services, person.who));
    if (deal.status !== 'open' || !mayChangeDeal(person.who, deal)) continue;
    const stages = (await readPipelines(w)).find(
      ({ movesOn, stages: all }) => movesOn && all.some((stage) => stage.id === deal.stageId),
    )?.stages;
    const at = stages?.findIndex((stage) => stage.id === deal.stageId) ?? -1;
    const [here, next] = [stages?.[at], stages?.[at + 1]];
    if (here === undefined || next === undefined) continue;
    const { prompts, briefTasksOpen: tasksOpen } = deal;
    if (!isBriefDone({ prompts, tasks: here.brief.tasks.length, tasksOpen }) || lacksFacts(next, deal))
      continue;
    const { version, name, amountMinor, expectedCloseOn } = deal;
    await changeDeal(person, id, { version, name, amountMinor, expectedCloseOn, stageId: next.id, tick: [] });
  }
};

/** Deals of which a prompt was ticked, or a task of the brief finished. */
async function dealsWithMoreDone(w: PersonWork, written: Written): Promise<string[]> {
  const ticked = written
    .of('prompt_tick')
    .flatMap(({ op, refs }) => (op === 'insert' && refs.deal_id ? [idOfHex(refs.deal_id)] : []));
  const finished = written
    .of('task')
    .flatMap(({ op, became, key }) =>
      op === 'update' && became?.state === 'done' ? [idBytesOfKey(key)] : [],
    );
  const ofTasks =
    finished.length === 0
      ? []
      : await w.rows<{ deal_id: IdBytes<string> }>(
          'SELECT DISTINCT deal_id FROM brief_task WHERE task_id IN (:tasks) ORDER BY deal_id',
          { tasks: finished },
        );
  return [...new Set([...ticked, ...ofTasks.map(({ deal_id: id }) => idOf(id))])];
}

/** Ticks the prompts of a deal's stage that name what was done at a meeting. @returns the texts of those that were not ticked before */
export async function tickWhatWasDone(
  w: PersonWork,
  dealId: string,
  done: readonly string[],
): Promise<readonly string[]> {
  if (done.length === 0) return [];
  await w.rows('SELECT 1 FROM deal WHERE id = :id FOR UPDATE', { id: bytesOf(dealId) });
  const deal: Deal = await readDeal(w, dealId, readAt(w.services, w.who));
  if (deal.status !== 'open' || !mayChangeDeal(w.who, deal)) return [];
  const said = new Set(done.map(nameKey));
  const named = deal.prompts.filter(({ text, isTicked }) => !isTicked && said.has(nameKey(text)));
  await tickPrompts(
    w,
    deal,
    named.map(({ id }) => id),
  );
  return named.map(({ text }) => text);
}
