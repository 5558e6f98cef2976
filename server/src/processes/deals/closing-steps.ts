import type { ClosingSteps, Deal } from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import { bytesOf, idOf, type IdBytes } from '../../platform/ids';
import type { Work } from '../../platform/work/work';
import { sqlInstant } from '../../platform/database/values';
import { readRunsOf, type StoredRun } from '../cadences/index';
import type { Row } from '../../platform/database/schema.generated';

type Closed = Exclude<Deal['status'], 'open'>;

/** Why a step was dropped, as it is kept with it. */
export const reasonOf = (as: Closed) => $localize`the deal was ${as}:as:`;

/** Runs that chase this deal, or chase the person for no deal in particular: they lose their purpose when it closes. */
export async function runsOfDeal(
  db: Queryable,
  { id, contactId }: Pick<Deal, 'id' | 'contactId'>,
): Promise<StoredRun[]> {
  if (contactId === null) return [];
  const runs = await readRunsOf(db, contactId, 'active');
  return runs.filter(({ dealId }) => dealId === null || dealId === id);
}

/**
 * Steps that the last closing dropped and that nobody touched since. Tasks of the stage's brief are not among them: entering the stage
 * makes them anew.
 */
const droppedByClosing = `deal_id = :id AND state = 'dropped' AND drop_reason = :reason
   AND finished_at = (SELECT MAX(d.finished_at) FROM task d WHERE d.deal_id = :id AND d.state = 'dropped' AND d.drop_reason = :reason)
   AND NOT EXISTS (SELECT 1 FROM brief_task b WHERE b.task_id = task.id AND b.is_withdrawn)`;

/** What closing does to what was planned: of an open deal what it would drop, of a closed one what it dropped. */
export async function readClosingSteps(db: Queryable, deal: Deal): Promise<ClosingSteps> {
  const { id, status } = deal;
  const rows = await db.rows<Row<'task', 'id' | 'channel' | 'purpose' | 'due_on'>>(
    `SELECT id, channel, purpose, due_on FROM task
      WHERE ${status === 'open' ? "deal_id = :id AND state = 'open' AND run_id IS NULL AND :reason = ''" : droppedByClosing} ORDER BY due_on, id`,
    { id: bytesOf(id), reason: status === 'open' ? '' : reasonOf(status) },
  );
  const runs = status === 'open' ? await runsOfDeal(db, deal) : [];
  return {
    steps: rows.map((row) => ({
      id: idOf(row.id),
      channel: row.channel,
      purpose: row.purpose,
      dueOn: row.due_on,
    })),
    runs: runs.map(({ id: runId, cadenceName }) => ({ id: runId, cadenceName })),
  };
}

/** Drops what is planned for a deal, but for what is kept: steps by their ids, a run's steps by the run's. */
export async function dropSteps(w: Work, dealId: string, as: Closed, keep: readonly string[]): Promise<void> {
  await w.change(
    `UPDATE task SET state = 'dropped', drop_reason = :reason, finished_at = :now, version = version + 1
      WHERE deal_id = :id AND state = 'open' AND COALESCE(run_id, id) NOT IN (:keep)`,
    {
      id: bytesOf(dealId),
      reason: reasonOf(as),
      now: sqlInstant(w.now),
      // A list must not be empty: the id that nothing has.
      keep: [Buffer.alloc(16), ...keep.map((id) => bytesOf(id))],
    },
  );
}

/** Plans again what the last closing dropped, on the days it had. @returns how many */
export async function bringStepsBack(w: Work, { id, status }: Deal): Promise<number> {
  if (status === 'open') return 0;
  const rows = await w.rows<{ id: IdBytes }>(`SELECT id FROM task WHERE ${droppedByClosing} ORDER BY id`, {
    id: bytesOf(id),
    reason: reasonOf(status),
  });
  if (rows.length === 0) return 0;
  return w.change(
    "UPDATE task SET state = 'open', drop_reason = NULL, finished_at = NULL, version = version + 1 WHERE id IN (:ids)",
    { ids: rows.map((row) => row.id) },
  );
}
