import { isDeepStrictEqual } from 'node:util';
import { dealFact, stageBrief } from '@kettle/contract';
import type { Pipeline, SavePipeline, StageId } from '@kettle/contract';
import * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { jsonOf } from '../../platform/database/values';
import { bytesOf, idOf } from '../../platform/ids';
import { changesSince, mergeFields } from '../../platform/work/merge-change';
import { fieldsOfList } from '../../platform/work/merge-list';
import { idOfHex, type Image } from '../../platform/work/written';

const fieldNames = ['name', 'winProbability', 'patienceDays', 'needs', 'brief'] as const;
type Sent = SavePipeline['stages'][number];
type StageFields = Pick<Sent, (typeof fieldNames)[number]>;
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
  const list = fieldsOfList<Sent>({
    path: 'stages',
    fields: fieldNames,
    asked: asked.stages,
    current: now.stages,
    seen: seen.stages,
  });
  const own: Fields = { name: asked.name, ...list.asked };
  const current: Fields = { name: now.name, ...list.current };
  const before: Fields = { name: seen.name, ...list.seen };
  const merged = mergeFields<Fields>({
    asked: asked.resolved === undefined ? own : { ...own, resolved: asked.resolved },
    current,
    record: now,
    // Of a stage that only one side has, whether it is there is the question, not what it holds.
    names: Object.keys(own).filter((path) => path in current),
    isKnown: seen.isKnown,
    beforeOf: (path) =>
      isDeepStrictEqual(before[path], current[path]) ? null : { value: before[path], by: seen.byOf(path) },
  });
  const stages = list.listOf(merged);
  return { ...asked, version: now.version, name: String(merged.name), stages };
}

interface Seen {
  readonly name: string;
  readonly stages: readonly Sent[];
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
    stages: asSeen.map(([id, image]) => ({ id: id as StageId, ...fieldsOf(image) })),
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
