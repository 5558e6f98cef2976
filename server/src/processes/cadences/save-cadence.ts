import type {
  CadenceDefinition,
  CadenceId,
  CadenceSummary,
  CadenceVersion,
  CadenceVersionId,
  MoveRuns,
  MovedRuns,
  Resolved,
  WordingId,
} from '@kettle/contract';
import { cadenceDefinition } from '@kettle/contract';
import { advance, type RunEvent } from '@kettle/core/cadences';
import { isDeepStrictEqual } from 'node:util';
import { isDuplicateKey, type Queryable } from '../../platform/database/database';
import { instantOf, jsonOf, sqlInstant, wholeNumber } from '../../platform/database/values';
import { bytesOf, idOf, newId } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import { assertMayChange } from '../../records/rights/index';
import { assertMayRelease, recordWording } from '../../records/wordings/index';
import { applyEvent, settingOfRun } from './apply-event';
import { insertCadence, listCadences, readCurrentVersion, readVersion } from './cadence-rows';
import { mergeCadence } from './merge-cadence';
import { readRunsOnVersion, type StoredRun } from './run-rows';
import type { PersonWork } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';

export interface SavedCadence {
  readonly name: string;
  readonly definition: CadenceSummary['definition'];
  readonly version: number;
  readonly isRetired: boolean;
  readonly resolved?: Resolved;
}

/** Saves a cadence. Another definition is a new version; runs stay on theirs. @throws Problem `stale`, `already-exists` */
export async function saveCadence(
  w: PersonWork,
  cadenceId: CadenceId,
  asked: SavedCadence,
  draftId?: WordingId,
): Promise<void> {
  await w.rows('SELECT id FROM cadence WHERE id = :id FOR UPDATE', { id: bytesOf(cadenceId) });
  const current = await readCurrentVersion(w, cadenceId);
  const saved = await mergeCadence(w, asked, await summaryOf(w, cadenceId));
  if (sendsByItself(current.definition) || sendsByItself(saved.definition))
    await assertMayRelease(w.services, w.who);
  const now = sqlInstant(w.now);
  const isNew = !isDeepStrictEqual(current.definition, saved.definition);
  const versionId = isNew ? newId<CadenceVersionId>() : current.id;
  try {
    const changed = await w.change(
      `UPDATE cadence SET name = :name, current_version_id = :versionId, version = version + 1,
              retired_at = ${saved.isRetired ? 'COALESCE(retired_at, :now)' : 'NULL'}
        WHERE id = :id AND version = :version`,
      {
        id: bytesOf(cadenceId),
        name: saved.name,
        versionId: bytesOf(versionId),
        version: saved.version,
        now,
      },
    );
    if (changed === 0) throw new Problem('stale', {}, { current: await summaryOf(w, cadenceId) });
  } catch (error) {
    if (isDuplicateKey(error))
      throw new Problem('already-exists', { what: $localize`The name “${saved.name}:name:”` });
    throw error;
  }
  if (isNew)
    await w.change(
      `INSERT INTO cadence_version (id, cadence_id, number, definition, created_at)
       SELECT :versionId, :id, MAX(number) + 1, :definition, :now FROM cadence_version WHERE cadence_id = :id`,
      {
        versionId: bytesOf(versionId),
        id: bytesOf(cadenceId),
        definition: JSON.stringify(saved.definition),
        now,
      },
    );
  await recordWording(w, {
    act: 'saveCadence',
    cadenceId,
    name: saved.name,
    kept: { name: saved.name, definition: saved.definition, isRetired: saved.isRetired },
    draftId,
  });
}

/** A new cadence. @throws Problem `already-exists`; `needs-release` for one that sends by itself, from whoever may not release it */
export async function createCadence(
  w: PersonWork,
  { name, definition }: { name: string; definition: CadenceDefinition },
  draftId?: WordingId,
): Promise<CadenceId> {
  if (sendsByItself(definition)) await assertMayRelease(w.services, w.who);
  const cadenceId = await insertCadence(w, name, definition);
  await recordWording(w, { act: 'createCadence', cadenceId, name, kept: { name, definition }, draftId });
  return cadenceId;
}

const sendsByItself = ({ steps }: CadenceDefinition) => steps.some(({ mode }) => mode === 'by-itself');

/** @throws Problem `not-found` */
export async function summaryOf(db: Queryable, cadenceId: string): Promise<CadenceSummary> {
  const found = (await listCadences(db)).find((cadence) => cadence.id === cadenceId);
  if (!found) throw new Problem('not-found');
  return found;
}

export async function listVersions(db: Queryable, cadenceId: string): Promise<CadenceVersion[]> {
  const rows = await db.rows<
    Row<'cadence_version', 'id' | 'number' | 'created_at'> & { definition: unknown; running: string }
  >(
    `SELECT v.id, v.number, v.created_at, v.definition,
            (SELECT COUNT(*) FROM run r WHERE r.cadence_version_id = v.id AND r.status IN ('running', 'paused')) AS running
       FROM cadence_version v WHERE v.cadence_id = :id ORDER BY v.number DESC`,
    { id: bytesOf(cadenceId) },
  );
  return rows.map((row) => ({
    id: idOf(row.id),
    number: row.number,
    savedAt: instantOf(row.created_at),
    definition: cadenceDefinition.parse(jsonOf(row.definition)),
    running: wholeNumber(row.running),
  }));
}

/**
 * Takes the active runs of one version to another, each from its step to the one the mapping names; a dry run answers the
 * same and writes nothing. Reps move their own runs.
 */
export async function moveRuns(w: PersonWork, cadenceId: string, asked: MoveRuns): Promise<MovedRuns> {
  const to = await readVersion(w, asked.toVersionId);
  const from = await readVersion(w, asked.fromVersionId);
  if (to.cadenceId !== cadenceId || from.cadenceId !== cadenceId) throw new Problem('not-found');
  assertMapping(asked.mapping, from.definition.steps.length, to.definition.steps.length);
  const people: MovedRuns['people'] = [];
  for (const { name, stored } of await readRunsOnVersion(
    w,
    from.id,
    w.who.role === 'rep' ? w.who.id : null,
  )) {
    const event = {
      id: `moved:${to.id}:${stored.run.step}`,
      at: w.now,
      kind: 'definition-moved',
      mapping: asked.mapping,
      definition: to.definition,
    } as const;
    const setting = await settingOfRun(w, stored);
    const { run } = advance(stored.run, event, { ...setting, definition: stored.definition });
    people.push({
      runId: stored.id,
      name,
      from: stored.run.step,
      to: run.status === 'stopped' ? null : run.step,
      nextOn: run.nextOn,
    });
    if (!asked.isDryRun) await moveOne(w, { ...stored, definition: to.definition }, to.id, event);
  }
  return { people };
}

async function moveOne(w: PersonWork, stored: StoredRun, versionId: string, event: RunEvent): Promise<void> {
  await assertMayChange(w, w.who, stored.ownerId);
  await applyEvent(w, stored, event);
  await w.change('UPDATE run SET cadence_version_id = :version WHERE id = :id', {
    id: bytesOf(stored.id),
    version: bytesOf(versionId),
  });
}

function assertMapping(mapping: readonly (number | null)[], from: number, to: number): void {
  if (mapping.length !== from)
    throw new Problem('not-moved', {
      why: $localize`the old version has ${from}:from: steps, ${mapping.length}:length: were named`,
    });
  if (mapping.some((step) => step !== null && step >= to))
    throw new Problem('not-moved', { why: $localize`the new version has only ${to}:to: steps` });
}
