import type { CadenceDefinition, CadenceId, CadenceSummary, CadenceVersionId } from '@kettle/contract';
import { cadenceDefinition } from '@kettle/contract';
import { isDuplicateKey, type Queryable } from '../../platform/database/database';
import { jsonOf, sqlInstant, wholeNumber } from '../../platform/database/values';
import { bytesOf, idOf, newId } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { Row, Tables } from '../../platform/database/schema.generated';
import type { Writing } from '../../platform/work/work';

export interface StoredVersion {
  readonly id: CadenceVersionId;
  readonly cadenceId: CadenceId;
  readonly name: string;
  readonly definition: CadenceDefinition;
  readonly isRetired: boolean;
}

/** @throws Problem `not-found` */
export const readCurrentVersion = (db: Queryable, cadenceId: string) =>
  readOne(db, 'ca.id = :id AND v.id = ca.current_version_id', cadenceId);

/** @throws Problem `not-found` */
export const readVersion = (db: Queryable, versionId: string) => readOne(db, 'v.id = :id', versionId);

async function readOne(db: Queryable, where: string, id: string): Promise<StoredVersion> {
  const [row] = await db.rows<
    Row<'cadence_version', 'id' | 'cadence_id'> &
      Row<'cadence', 'name' | 'retired_at'> & { definition: unknown }
  >(
    `SELECT v.id, v.cadence_id, ca.name, v.definition, ca.retired_at
       FROM cadence ca JOIN cadence_version v ON v.cadence_id = ca.id WHERE ${where}`,
    { id: bytesOf(id) },
  );
  if (!row) throw new Problem('not-found');
  return {
    id: idOf(row.id),
    cadenceId: idOf(row.cadence_id),
    name: row.name,
    definition: cadenceDefinition.parse(jsonOf(row.definition)),
    isRetired: row.retired_at !== null,
  };
}

export async function listCadences(db: Queryable): Promise<CadenceSummary[]> {
  const rows = await db.rows<
    Record<'running' | 'finished' | 'stopped' | 'answered', string> &
      Row<'cadence', 'id' | 'name' | 'retired_at' | 'version'> &
      Row<'cadence_version', 'number'> & { version_id: Tables['cadence_version']['id']; definition: unknown }
  >(
    `SELECT ca.id, v.id AS version_id, v.number, ca.name, v.definition, ca.retired_at, ca.version,
            SUM(r.status IN ('running', 'paused')) AS running, SUM(r.status = 'finished') AS finished,
            SUM(r.status = 'stopped') AS stopped, SUM(r.answered) AS answered
       FROM cadence ca JOIN cadence_version v ON v.id = ca.current_version_id LEFT JOIN run r ON r.cadence_id = ca.id
      GROUP BY ca.id, v.id, v.number, ca.name, v.definition, ca.retired_at, ca.version
      ORDER BY ca.retired_at IS NOT NULL, ca.name, ca.id`,
  );
  return rows.map((row) => ({
    id: idOf(row.id),
    versionId: idOf(row.version_id),
    number: row.number,
    name: row.name,
    definition: cadenceDefinition.parse(jsonOf(row.definition)),
    running: wholeNumber(row.running),
    finished: wholeNumber(row.finished),
    stopped: wholeNumber(row.stopped),
    answered: wholeNumber(row.answered),
    isRetired: row.retired_at !== null,
    version: row.version,
  }));
}

/** @throws Problem `already-exists` when a cadence has the name. */
export async function insertCadence(
  w: Writing,
  name: string,
  definition: CadenceDefinition,
): Promise<CadenceId> {
  const id = newId<CadenceId>();
  const versionId = newId<CadenceVersionId>();
  try {
    await w.change(
      'INSERT INTO cadence (id, name, current_version_id, created_at) VALUES (:id, :name, :versionId, :now)',
      { id: bytesOf(id), name, versionId: bytesOf(versionId), now: sqlInstant(w.now) },
    );
  } catch (error) {
    if (isDuplicateKey(error))
      throw new Problem('already-exists', { what: $localize`The name “${name}:name:”` });
    throw error;
  }
  await w.change(
    `INSERT INTO cadence_version (id, cadence_id, number, definition, created_at)
     VALUES (:versionId, :id, 1, :definition, :now)`,
    {
      id: bytesOf(id),
      versionId: bytesOf(versionId),
      definition: JSON.stringify(definition),
      now: sqlInstant(w.now),
    },
  );
  return id;
}
