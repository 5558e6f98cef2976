import { dealFact, stageBrief } from '@kettle/contract';
import type { Pipeline, PipelineId, Stage, StageId } from '@kettle/contract';
import * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import { jsonOf } from '../../platform/database/values';
import { Problem } from '../../platform/problem';
import { idOf, idOrNull } from '../../platform/ids';
import type { Row, Tables } from '../../platform/database/schema.generated';

interface StageColumns extends Row<
  'stage',
  'id' | 'name' | 'win_probability' | 'patience_days' | 'position' | 'needs' | 'brief' | 'retired_at'
> {
  pipeline_id: Tables['pipeline']['id'];
  pipeline_name: Tables['pipeline']['name'];
  pipeline_version: Tables['pipeline']['version'];
  moves_on: Tables['pipeline']['moves_on'];
  hands_on_to: Tables['pipeline']['hands_on_to'];
  is_for_renewals: Tables['pipeline']['is_for_renewals'];
  pipeline_retired_at: Tables['pipeline']['retired_at'];
}

const select = `SELECT p.id AS pipeline_id, p.name AS pipeline_name, p.version AS pipeline_version, p.moves_on, p.hands_on_to, p.is_for_renewals,
    p.retired_at AS pipeline_retired_at, s.id, s.name, s.win_probability, s.patience_days, s.position, s.needs, s.brief, s.retired_at
  FROM pipeline p JOIN stage s ON s.pipeline_id = p.id`;

const needs = z.array(dealFact);

const stageOf = (row: StageColumns): Stage => ({
  id: idOf<StageId>(row.id),
  pipelineId: idOf<PipelineId>(row.pipeline_id),
  name: row.name,
  winProbability: Number(row.win_probability),
  patienceDays: row.patience_days,
  position: row.position,
  needs: needs.parse(jsonOf(row.needs)),
  brief: stageBrief.parse(jsonOf(row.brief)),
});

/** Pipelines in their order with the stages that are in use. */
export async function readPipelines(db: Queryable): Promise<Pipeline[]> {
  const rows = await db.rows<StageColumns>(
    `${select} WHERE p.retired_at IS NULL AND s.retired_at IS NULL ORDER BY p.position, p.id, s.position, s.id`,
  );
  const pipelines = new Map<string, Pipeline>();
  for (const row of rows) {
    const id = idOf<PipelineId>(row.pipeline_id);
    const pipeline: Pipeline = pipelines.get(id) ?? {
      id,
      name: row.pipeline_name,
      version: row.pipeline_version,
      movesOn: row.moves_on === 1,
      handsOnTo: idOrNull(row.hands_on_to),
      isForRenewals: row.is_for_renewals === 1,
      stages: [],
    };
    pipelines.set(id, pipeline);
    pipeline.stages.push(stageOf(row));
  }
  return [...pipelines.values()];
}

/** @throws Problem `not-found` */
export async function readPipeline(db: Queryable, id: string): Promise<Pipeline> {
  const found = (await readPipelines(db)).find((pipeline) => pipeline.id === id);
  if (!found) throw new Problem('not-found');
  return found;
}

/** Every stage there is or ever was, by id: what closed deals and the past name. */
export async function readAllStages(db: Queryable): Promise<ReadonlyMap<string, Stage>> {
  const rows = await db.rows<StageColumns>(`${select} ORDER BY p.position, p.id, s.position, s.id`);
  return new Map(rows.map((row) => [idOf<string>(row.id), stageOf(row)]));
}

/** A stage that deals can enter. @throws Problem `invalid-request` at `stageId` */
export async function readStage(db: Queryable, id: string): Promise<Stage> {
  const stages = (await readPipelines(db)).flatMap((pipeline) => pipeline.stages);
  const found = stages.find((stage) => stage.id === id);
  if (found) return found;
  const fields = [{ path: 'stageId', message: $localize`is not a stage; choose one from the list` }];
  throw new Problem('invalid-request', {}, { fields });
}
