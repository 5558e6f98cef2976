import { isDeepStrictEqual } from 'node:util';
import {
  saveCadence,
  type CadenceDefinition,
  type CadenceSummary,
  type CadenceVersionId,
} from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import { invalidRequest } from '../../platform/http/errors';

import { changesSince, mergeFields } from '../../platform/work/merge-change';
import { idOfHex, rowKeyOf } from '../../platform/work/written';
import { readVersion } from './cadence-rows';
import type { SavedCadence } from './save-cadence';

type Sides = Pick<SavedCadence, 'name' | 'isRetired' | 'definition'>;
type Fields = Record<string, unknown>;

/**
 * The cadence as somebody means it, also when others saved it since the version that was seen: name, use, where an answer leads, and each field
 * of a step are fields of their own (`definition.steps.2.minutes`). Steps have no ids: where one side added, removed or moved some, the steps
 * are one field (`definition.steps`). @throws Problem `stale` with each field that both changed and by whom
 */
export async function mergeCadence(
  db: Queryable,
  asked: SavedCadence,
  now: CadenceSummary,
): Promise<SavedCadence> {
  if (asked.version === now.version) return asked;
  const { seen, isKnown, by } = await readSeen(db, now, asked.version);
  const sides = [asked, now, seen] as const;
  const isStepwise = new Set(sides.map(({ definition }) => definition.steps.length)).size === 1;
  const [mine, current, before] = sides.map((side) => flat(side, isStepwise)) as [Fields, Fields, Fields];
  const merged = mergeFields<Fields>({
    asked: asked.resolved === undefined ? mine : { ...mine, resolved: asked.resolved },
    current,
    record: now,
    names: Object.keys(mine),
    isKnown,
    beforeOf: (path) => (isDeepStrictEqual(before[path], current[path]) ? null : { value: before[path], by }),
  });
  const steps = isStepwise
    ? asked.definition.steps.map((step, at) =>
        Object.fromEntries(Object.keys(step).map((field) => [field, merged[`${stepsPath}.${at}.${field}`]])),
      )
    : merged[stepsPath];
  const read = saveCadence
    .pick({ definition: true })
    .safeParse({ definition: { steps, answeredStep: merged['definition.answeredStep'] } });
  // What each of them changed may be right alone and wrong together: a window that ends before it begins.
  if (!read.success) throw invalidRequest(read.error, 'body');
  return {
    name: String(merged.name),
    isRetired: merged.isRetired === true,
    definition: read.data.definition,
    version: now.version,
  };
}

const stepsPath = 'definition.steps';

function flat({ name, isRetired, definition }: Sides, isStepwise: boolean): Fields {
  const own = { name, isRetired, 'definition.answeredStep': definition.answeredStep };
  if (!isStepwise) return { ...own, [stepsPath]: definition.steps };
  const steps = definition.steps.flatMap((step, at) =>
    Object.entries(step).map(([field, value]): [string, unknown] => [`${stepsPath}.${at}.${field}`, value]),
  );
  return { ...own, ...Object.fromEntries(steps) };
}

/** The cadence as it was at a version: what was written since is put back, change by change. */
async function readSeen(
  db: Queryable,
  now: CadenceSummary,
  version: number,
): Promise<{ seen: Sides; isKnown: boolean; by: string }> {
  const { sets, isKnown } = await changesSince(db, { table: 'cadence', id: now.id, version });
  const { name, isRetired } = now;
  let seen = { name, isRetired, versionId: now.versionId };
  for (const { rows } of [...sets].reverse())
    for (const { table, key, was } of [...rows].reverse())
      if (table === 'cadence' && key === rowKeyOf(now.id) && was !== null)
        seen = {
          name: was.name ?? seen.name,
          isRetired: 'retired_at' in was ? was.retired_at !== null : seen.isRetired,
          versionId: was.current_version_id
            ? idOfHex<CadenceVersionId>(was.current_version_id)
            : seen.versionId,
        };
  const definition: CadenceDefinition =
    seen.versionId === now.versionId ? now.definition : (await readVersion(db, seen.versionId)).definition;
  return { seen: { ...seen, definition }, isKnown, by: sets.at(-1)?.by ?? 'somebody' };
}
