import { isDeepStrictEqual } from 'node:util';
import { dealFact, stageBrief } from '@kettle/contract';
import type { Pipeline, SavePipeline } from '@kettle/contract';
import * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { jsonOf } from '../../platform/database/values';
import { bytesOf, idOf } from '../../platform/ids';
import { changesSince, mergeFields, type Before } from '../../platform/work/merge-change';
import { idOfHex, type Image } from '../../platform/work/written';

const fieldNames = ['name', 'winProbability', 'patienceDays', 'needs', 'brief'] as const;
type Sent = SavePipeline['stages'][number];
type StageFields = Pick<Sent, (typeof fieldNames)[number]>;
type StageNow = StageFields & { readonly id: string };
type Fields = Record<string, unknown>;

/**
 * The pipeline as an admin means it, also when others changed it since the version that was seen: its name, the order of its stages, whether each
 * stage is there, and each field of a stage are fields of their own (`name`, `order`, `stages.<id>`, `stages.<id>.winProbability`). Stages
 * that others added stay, after the one they follow. @throws Problem `stale` with each field that both changed and by whom
 */
export async function mergePipeline(
  db: Queryable,
  asked: SavePipeline,
  now: Pipeline,
): Promise<SavePipeline> {
  if (asked.version === now.version) return asked;
  const seen = await readSeen(db, now, asked.version);
  const mine = asked.stages.flatMap((stage) =>
    stage.id === null ? [] : [{ ...stage, id: stage.id as string }],
  );
  const sides = { asked: byId(mine), current: byId(now.stages), seen: byId(seen.stages) };
  const common = (stages: readonly StageNow[]) =>
    stages.map(({ id }) => id).filter((id) => [...Object.values(sides)].every((side) => side.has(id)));
  const flat = (side: ReadonlyMap<string, StageNow>, name: string, stages: readonly StageNow[]): Fields => ({
    name,
    order: common(stages).join(' '),
    ...Object.fromEntries([...side.values()].flatMap((stage) => flatStage(stage, sides.seen.get(stage.id)))),
  });
  const before = flat(sides.seen, seen.name, seen.stages);
  const current = flat(sides.current, now.name, now.stages);
  const own = flat(sides.asked, asked.name, mine);
  // A stage that was seen and is not sent is taken out; one that was not seen was added by others.
  for (const id of sides.seen.keys()) {
    own[`stages.${id}`] ??= isGone;
    current[`stages.${id}`] ??= isGone;
  }
  const merged = mergeFields<Fields>({
    asked: asked.resolved === undefined ? own : { ...own, resolved: asked.resolved },
    current,
    record: now,
    // Of a stage that is only with one of both, whether it is there is the question, not what it holds.
    names: Object.keys(own).filter((path) => path in current),
    isKnown: seen.isKnown,
    beforeOf: (path): Before | null =>
      JSON.stringify(before[path]) === JSON.stringify(current[path])
        ? null
        : { value: before[path], by: seen.byOf(path) },
  });
  return { ...asked, version: now.version, name: merged.name as string, stages: assembled() };

  function assembled(): Sent[] {
    const stays = (id: string) => (merged[`stages.${id}`] ?? current[`stages.${id}`]) !== isGone;
    const mergedOf = (stage: StageNow): StageFields =>
      Object.fromEntries(
        fieldNames.map((field) => [field, merged[`stages.${stage.id}.${field}`] ?? stage[field]]),
      ) as unknown as StageFields;
    const kept = asked.stages.flatMap((stage): Sent[] => {
      if (stage.id === null) return [stage];
      if (!stays(stage.id)) return [];
      // Deleted by others and kept by choice: it is made anew.
      const { id } = stage;
      return [{ ...mergedOf({ ...stage, id }), id: sides.current.has(id) ? id : null }];
    });
    const theirs = now.stages
      .filter(({ id }) => stays(id))
      .map((stage): Sent => ({ ...mergedOf(stage), id: stage.id }));
    return merged.order === own.order ? woven(kept, theirs) : woven(theirs, kept);
  }
}

const isGone = 'deleted';
const byId = <Stage extends { readonly id: string }>(stages: readonly Stage[]) =>
  new Map(stages.map((stage) => [stage.id, stage] as const));

const fieldsOnly = (stage: StageFields) => fieldNames.map((field) => stage[field]);

/** A stage as fields; whether it is as it was tells a deletion from a change. */
function flatStage(stage: StageNow, seen: StageNow | undefined): [string, unknown][] {
  const isChanged = seen === undefined || !isDeepStrictEqual(fieldsOnly(stage), fieldsOnly(seen));
  return [
    [`stages.${stage.id}`, isChanged ? 'changed' : 'as it was'],
    ...fieldNames.map((field): [string, unknown] => [`stages.${stage.id}.${field}`, stage[field]]),
  ];
}

/** The first list in its order, with what only the second has after the one it follows there. */
function woven(first: readonly Sent[], second: readonly Sent[]): Sent[] {
  const same = (one: Sent, other: Sent) => one === other || (one.id !== null && one.id === other.id);
  const result = [...first];
  for (const [at, stage] of second.entries()) {
    if (result.some((each) => same(each, stage))) continue;
    const follows = second[at - 1];
    const place = follows === undefined ? 0 : result.findIndex((each) => same(each, follows)) + 1;
    result.splice(place, 0, stage);
  }
  return result;
}

interface Seen {
  readonly name: string;
  readonly stages: readonly StageNow[];
  readonly isKnown: boolean;
  byOf(path: string): string;
}

type StageRow = Row<
  'stage',
  'id' | 'name' | 'win_probability' | 'patience_days' | 'position' | 'needs' | 'brief'
> & {
  retired: number;
};

/** The pipeline as it was at a version: what was written since is put back, change by change. */
async function readSeen(db: Queryable, now: Pipeline, version: number): Promise<Seen> {
  const rows = await db.rows<StageRow>(
    `SELECT id, name, win_probability, patience_days, position, needs, brief, retired_at IS NOT NULL AS retired
       FROM stage WHERE pipeline_id = :id`,
    { id: bytesOf(now.id) },
  );
  const stages = new Map(rows.map((row) => [idOf<string>(row.id), imageOf(row)]));
  const { sets, isKnown } = await changesSince(db, { table: 'pipeline', id: now.id, version });
  const by = new Map<string, string>();
  let name = now.name;
  for (const set of [...sets].reverse())
    for (const { table, key, op, was, refs } of [...set.rows].reverse()) {
      const id = idOfHex<string>((JSON.parse(key) as { id?: string }).id ?? '');
      if (table === 'pipeline' && id === now.id) {
        name = was?.name ?? name;
        by.set('name', set.by);
      }
      if (table !== 'stage' || !(stages.has(id) || idOfHex(refs.pipeline_id ?? '') === now.id)) continue;
      by.set(id, set.by);
      if (op === 'insert') stages.delete(id);
      else stages.set(id, { ...stages.get(id), ...was });
    }
  const asSeen = [...stages]
    .filter(([, image]) => image.retired_at === null)
    .sort(([, one], [, other]) => Number(one.position) - Number(other.position));
  const anybody = sets.at(-1)?.by ?? 'somebody';
  return {
    name,
    stages: asSeen.map(([id, image]) => ({ id, ...fieldsOf(image) })),
    isKnown,
    byOf: (path) => by.get(path.split('.')[1] ?? path) ?? anybody,
  };
}

const imageOf = (row: StageRow): Image => ({
  name: row.name,
  win_probability: row.win_probability,
  patience_days: String(row.patience_days),
  position: String(row.position),
  needs: row.needs,
  brief: row.brief,
  retired_at: row.retired === 1 ? 'then' : null,
});

const needs = z.array(dealFact);

const fieldsOf = (image: Image): StageFields => ({
  name: image.name ?? '',
  winProbability: Number(image.win_probability),
  patienceDays: Number(image.patience_days),
  needs: needs.parse(jsonOf(image.needs)),
  brief: stageBrief.parse(jsonOf(image.brief)),
});
