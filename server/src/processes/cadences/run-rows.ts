import type { CadenceDefinition, CadenceId, ContactId, RunId, RunSummary, UserId } from '@kettle/contract';
import { cadenceDefinition } from '@kettle/contract';
import type { Run } from '@kettle/core/cadences';
import * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import { instantOf, jsonOf } from '../../platform/database/values';
import { bytesOf, idOf, idOrNull } from '../../platform/ids';
import type { Row } from '../../platform/database/schema.generated';

interface RunRow extends Row<
  'run',
  | 'id'
  | 'cadence_id'
  | 'contact_id'
  | 'deal_id'
  | 'owner_id'
  | 'status'
  | 'step'
  | 'next_on'
  | 'paused_until'
  | 'exit_reason'
  | 'answered'
  | 'started_at'
  | 'version'
> {
  cadence_name: string;
  handled: unknown;
  definition: unknown;
}

/** A run as stored: the core's state with what it belongs to. */
export interface StoredRun {
  readonly id: RunId;
  readonly cadenceId: CadenceId;
  readonly cadenceName: string;
  readonly contactId: ContactId;
  readonly dealId: string | null;
  readonly ownerId: UserId;
  readonly startedAt: string;
  readonly answered: boolean;
  readonly version: number;
  readonly definition: CadenceDefinition;
  readonly run: Run;
}

const select = `SELECT r.id, r.cadence_id, ca.name AS cadence_name, r.contact_id, r.deal_id, r.owner_id, r.status, r.step,
    r.next_on, r.paused_until, r.exit_reason, r.handled, r.answered, r.started_at, r.version, v.definition
  FROM run r JOIN cadence ca ON ca.id = r.cadence_id JOIN cadence_version v ON v.id = r.cadence_version_id`;

const handledIds = z.array(z.string());

function storedRunOf(row: RunRow): StoredRun {
  return {
    id: idOf(row.id),
    cadenceId: idOf(row.cadence_id),
    cadenceName: row.cadence_name,
    contactId: idOf(row.contact_id),
    dealId: idOrNull(row.deal_id),
    ownerId: idOf(row.owner_id),
    startedAt: instantOf(row.started_at),
    answered: row.answered === 1,
    version: row.version,
    definition: cadenceDefinition.parse(jsonOf(row.definition)),
    run: {
      status: row.status,
      step: row.step,
      nextOn: row.next_on,
      pausedUntil: row.paused_until,
      exitReason: row.exit_reason,
      handled: handledIds.parse(jsonOf(row.handled)),
    },
  };
}

export async function readRun(db: Queryable, id: string): Promise<StoredRun | undefined> {
  const [row] = await db.rows<RunRow>(`${select} WHERE r.id = :id`, { id: bytesOf(id) });
  return row && storedRunOf(row);
}

/** Relies on run_contact. */
export async function readRunsOf(
  db: Queryable,
  contactId: string,
  only: 'active' | 'all',
): Promise<StoredRun[]> {
  const active = only === 'active' ? "AND r.status IN ('running', 'paused')" : '';
  const rows = await db.rows<RunRow>(
    `${select} WHERE r.contact_id = :id ${active} ORDER BY r.started_at DESC, r.id LIMIT 50`,
    { id: bytesOf(contactId) },
  );
  return rows.map(storedRunOf);
}

/** Active runs of one version with the names of their people; of one owner, or of everybody. */
export async function readRunsOnVersion(
  db: Queryable,
  versionId: string,
  ownerId: string | null,
): Promise<{ name: string; stored: StoredRun }[]> {
  const rows = await db.rows<RunRow & { name: string }>(
    `${select.replace('SELECT', 'SELECT p.display_name AS name,')} JOIN contact p ON p.id = r.contact_id
      WHERE r.cadence_version_id = :version AND r.status IN ('running', 'paused')
        ${ownerId === null ? '' : 'AND r.owner_id = :owner'} ORDER BY p.sort_name, r.id LIMIT 500`,
    { version: bytesOf(versionId), owner: bytesOf(ownerId) },
  );
  return rows.map((row) => ({ name: row.name, stored: storedRunOf(row) }));
}

/** Runs whose pause ends by that day, so many at once. Relies on run_paused. */
export async function readRunsToWake(db: Queryable, today: string, most: number): Promise<StoredRun[]> {
  const rows = await db.rows<RunRow>(
    `${select} WHERE r.status = 'paused' AND r.paused_until <= :today ORDER BY r.paused_until, r.id LIMIT :most`,
    { today, most },
  );
  return rows.map(storedRunOf);
}

/** Writes a run's state over the version it was read at; false when somebody was faster. */
export async function writeRun(
  tx: Queryable,
  stored: StoredRun,
  run: Run,
  answered = stored.answered,
): Promise<boolean> {
  const changed = await tx.change(
    `UPDATE run SET status = :status, step = :step, next_on = :nextOn, paused_until = :pausedUntil,
            exit_reason = :exitReason, handled = :handled, answered = :answered, version = version + 1
      WHERE id = :id AND version = :version`,
    {
      id: bytesOf(stored.id),
      version: stored.version,
      status: run.status,
      step: run.step,
      nextOn: run.nextOn,
      pausedUntil: run.pausedUntil,
      exitReason: run.exitReason,
      handled: JSON.stringify(run.handled),
      answered,
    },
  );
  return changed === 1;
}

export function runSummaryOf(stored: StoredRun): RunSummary {
  return {
    id: stored.id,
    cadenceId: stored.cadenceId,
    cadenceName: stored.cadenceName,
    status: stored.run.status,
    step: Math.min(stored.run.step + 1, stored.definition.steps.length),
    steps: stored.definition.steps.length,
    nextOn: stored.run.nextOn,
    exitReason: stored.run.exitReason,
    startedAt: stored.startedAt,
    version: stored.version,
  };
}
