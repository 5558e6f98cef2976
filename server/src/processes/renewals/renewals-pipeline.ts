import type { StageId } from '@kettle/contract';
import type { Row } from '../../platform/database/schema.generated';
import { bytesOf, idOf, newId } from '../../platform/ids';
import { takeTurn } from '../../platform/work/take-turn';
import type { Work } from '../../platform/work/work';

/** The stages that a renewal goes through where nobody has shaped them yet. */
const usualStages = () => [
  {
    name: $localize`To talk about`,
    chance: 0.8,
    patienceDays: 14,
    prompts: [$localize`What they use and what they miss is known`, $localize`Who decides is known`],
  },
  {
    name: $localize`In talks`,
    chance: 0.85,
    patienceDays: 14,
    prompts: [$localize`The next term is offered in writing`],
  },
  { name: $localize`Agreed in words`, chance: 0.95, patienceDays: 10, prompts: [] },
];

/** The first stage of the pipeline for renewals; it is made when the first renewal needs it, and an admin shapes it like any other. */
export async function firstRenewalStage(w: Work): Promise<StageId> {
  await takeTurn(w, 'pipelines');
  const [found] = await w.rows<Row<'stage', 'id'>>(
    `SELECT s.id FROM stage s JOIN pipeline p ON p.id = s.pipeline_id
      WHERE p.is_for_renewals = 1 AND p.retired_at IS NULL AND s.retired_at IS NULL ORDER BY p.position, p.id, s.position, s.id LIMIT 1`,
  );
  if (found !== undefined) return idOf<StageId>(found.id);
  const pipelineId = newId<string>();
  await w.change(
    `INSERT INTO pipeline (id, name, position, is_for_renewals)
     SELECT :id, :name, COALESCE(MAX(position), -1) + 1, 1 FROM pipeline`,
    { id: bytesOf(pipelineId), name: await freeName(w, $localize`Renewals`) },
  );
  const stages = usualStages().map((stage) => ({ ...stage, id: newId<StageId>() }));
  for (const [position, { id, name, chance, patienceDays, prompts }] of stages.entries())
    await w.change(
      `INSERT INTO stage (id, pipeline_id, name, win_probability, patience_days, position, brief)
       VALUES (:id, :pipeline, :name, :chance, :patience, :position, :brief)`,
      {
        ...{ id: bytesOf(id), pipeline: bytesOf(pipelineId), name, chance, patience: patienceDays, position },
        brief: JSON.stringify({
          prompts: prompts.map((text) => ({ id: newId<string>(), text, isRequired: false })),
          tasks: [],
        }),
      },
    );
  return stages[0]!.id;
}

/** Somebody may have a pipeline of that name for something else. */
async function freeName(w: Work, name: string): Promise<string> {
  const taken = await w.rows<Row<'pipeline', 'name'>>(
    'SELECT name FROM pipeline WHERE retired_at IS NULL AND name LIKE :name',
    { name: `${name}%` },
  );
  const names = new Set(taken.map((row) => row.name.toLowerCase()));
  let count = 1;
  while (names.has((count === 1 ? name : `${name} ${count}`).toLowerCase())) count += 1;
  return count === 1 ? name : `${name} ${count}`;
}
