import type {
  ChangeFlow,
  createPipeline as creating,
  Pipeline,
  PipelineId,
  SavePipeline,
  Stage,
  StageId,
} from '@kettle/contract';
import type * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import { sqlInstant } from '../../platform/database/values';
import { Problem } from '../../platform/problem';
import { bytesOf, newId } from '../../platform/ids';
import type { Services } from '../../platform/services';
import type { SignedIn } from '../../records/users/index';
import { countDealsIn, moveDealsTo } from '../deals/index';
import { mergePipeline } from './merge-pipeline';
import { readPipeline, readPipelines } from '../../records/pipelines/index';
import { type FieldsAt, mergeChange } from '../../platform/work/merge-change';
import { type PersonWork, work } from '../../platform/work/work';
import { takeTurn } from '../../platform/work/take-turn';

type NewStage = Omit<Stage, 'id' | 'pipelineId' | 'position'>;

/** @throws Problem `already-exists` */
export async function createPipeline(
  services: Services,
  who: SignedIn,
  body: z.output<typeof creating>,
): Promise<Pipeline> {
  const { database } = services;
  const id = newId<PipelineId>();
  await work(services, who, async (w) => {
    await assertNameFree(w, body.name, null);
    await w.change(
      'INSERT INTO pipeline (id, name, position) SELECT :id, :name, COALESCE(MAX(position), -1) + 1 FROM pipeline',
      { id: bytesOf(id), name: body.name },
    );
    await insertStages(
      w,
      id,
      body.stages.map((stage, position) => ({ stage, position })),
    );
  });
  return readPipeline(database, id);
}

/**
 * Writes a pipeline as an admin wants it. A stage that is left out is retired once its open and parked deals have a home;
 * closed ones keep naming it. What others changed since it was seen stays.
 * @throws Problem `not-found`, `stale`, `already-exists`, `stage-not-empty`, `invalid-request`
 */
export async function savePipeline(w: PersonWork, id: string, asked: SavePipeline): Promise<void> {
  const before = await lockPipeline(w, id);
  const body = await mergePipeline(w, asked, before);
  await assertNameFree(w, body.name, id);
  assertKnown(before, body);
  await w.change('UPDATE pipeline SET name = :name, version = version + 1 WHERE id = :id', {
    id: bytesOf(id),
    name: body.name,
  });
  const kept = body.stages.map((stage, position) => ({ stage, position }));
  for (const { stage, position } of kept)
    if (stage.id !== null) await writeStage(w, stage.id, stage, position);
  await insertStages(
    w,
    id,
    kept.filter(({ stage }) => stage.id === null),
  );
  const going = before.stages.filter(({ id: was }) => !body.stages.some((stage) => stage.id === was));
  for (const stage of going) await retireStage(w, stage, body);
}

const flowFields: FieldsAt<ChangeFlow> = {
  movesOn: { column: 'moves_on', read: (text) => text === '1' },
  handsOnTo: { column: 'hands_on_to' },
  isForRenewals: { column: 'is_for_renewals', read: (text) => text === '1' },
};

/** How deals go on in a pipeline, field by field. @throws Problem `not-found`, `stale`, `invalid-request` */
export async function changeFlow(w: PersonWork, id: string, asked: ChangeFlow): Promise<void> {
  const record = await lockPipeline(w, id);
  const {
    movesOn,
    handsOnTo,
    isForRenewals = record.isForRenewals,
  } = await mergeChange(w, {
    ...{ table: 'pipeline', id, fields: flowFields, asked, record },
  });
  if (
    handsOnTo !== null &&
    (handsOnTo === id || !(await readPipelines(w)).some((each) => each.id === handsOnTo))
  ) {
    const fields = [{ path: 'handsOnTo', message: $localize`must be another pipeline` }];
    throw new Problem('invalid-request', {}, { fields });
  }
  await w.change(
    `UPDATE pipeline SET moves_on = :movesOn, hands_on_to = :handsOnTo, is_for_renewals = :isForRenewals, version = version + 1
      WHERE id = :id`,
    { id: bytesOf(id), movesOn, handsOnTo: bytesOf(handsOnTo), isForRenewals },
  );
  if (isForRenewals && !record.isForRenewals)
    await w.change(
      'UPDATE pipeline SET is_for_renewals = 0, version = version + 1 WHERE id <> :id AND is_for_renewals = 1',
      { id: bytesOf(id) },
    );
  w.say($localize`${record.name}:name: changed`);
}

/** @throws Problem `last-one`, `stage-not-empty`, `stale`, `not-found` */
export async function removePipeline(w: PersonWork, id: string, version: number): Promise<void> {
  const before = await lockPipeline(w, id);
  if (before.version !== version) throw new Problem('stale', {}, { current: before });
  if ((await readPipelines(w)).length === 1) throw new Problem('last-one', { what: 'pipeline' });
  const count = await countDealsIn(
    w,
    before.stages.map((stage) => stage.id),
  );
  if (count > 0) throw new Problem('stage-not-empty', { count, name: before.name });
  await w.change('UPDATE pipeline SET retired_at = :now, version = version + 1 WHERE id = :id', {
    id: bytesOf(id),
    now: sqlInstant(w.now),
  });
}

async function lockPipeline(tx: Queryable, id: string): Promise<Pipeline> {
  await takeTurn(tx, 'pipelines');
  return readPipeline(tx, id);
}

/** Names are compared as the database compares texts: without case and accents. */
async function assertNameFree(tx: Queryable, name: string, exceptId: string | null): Promise<void> {
  const taken = await tx.rows(
    'SELECT 1 FROM pipeline WHERE name = :name AND retired_at IS NULL AND (:id IS NULL OR id <> :id)',
    { name, id: bytesOf(exceptId) },
  );
  if (taken.length > 0) throw new Problem('already-exists', { what: name });
}

function assertKnown(before: Pipeline, body: SavePipeline): void {
  const known = new Set<string>(before.stages.map(({ id }) => id));
  const strange = body.stages.findIndex(({ id }) => id !== null && !known.has(id));
  if (strange < 0) return;
  const fields = [{ path: `stages.${strange}.id`, message: $localize`is not a stage of this pipeline` }];
  throw new Problem('invalid-request', {}, { fields });
}

async function writeStage(tx: Queryable, id: StageId, stage: NewStage, position: number): Promise<void> {
  await tx.change(
    `UPDATE stage SET name = :name, win_probability = :probability, patience_days = :patience, position = :position,
            needs = :needs, brief = :brief, version = version + 1
      WHERE id = :id`,
    { id: bytesOf(id), ...columnsOf(stage), position },
  );
}

const columnsOf = (stage: NewStage) => ({
  name: stage.name,
  probability: stage.winProbability,
  patience: stage.patienceDays,
  needs: JSON.stringify(stage.needs),
  brief: JSON.stringify(stage.brief),
});

async function insertStages(
  tx: Queryable,
  pipelineId: string,
  stages: readonly { readonly stage: NewStage; readonly position: number }[],
): Promise<void> {
  if (stages.length === 0) return;
  await tx.change(
    `INSERT INTO stage (id, pipeline_id, name, win_probability, patience_days, position, needs, brief) VALUES :rows`,
    {
      rows: stages.map(({ stage, position }) => {
        const { name, probability, patience, needs, brief } = columnsOf(stage);
        return [bytesOf(newId()), bytesOf(pipelineId), name, probability, patience, position, needs, brief];
      }),
    },
  );
}

async function retireStage(w: PersonWork, stage: Stage, { homes }: SavePipeline): Promise<void> {
  await w.change('UPDATE stage SET retired_at = :now, version = version + 1 WHERE id = :id', {
    id: bytesOf(stage.id),
    now: sqlInstant(w.now),
  });
  const count = await countDealsIn(w, [stage.id]);
  if (count === 0) return;
  const home = homes.find(({ from }) => from === stage.id);
  // Read after the others were retired or made: a home is a stage that stays.
  const stages = (await readPipelines(w)).flatMap((pipeline) => pipeline.stages);
  const to = stages.find(({ id }) => id === home?.to);
  if (to === undefined) throw new Problem('stage-not-empty', { count, name: stage.name });
  await moveDealsTo(w, stage, to);
}
