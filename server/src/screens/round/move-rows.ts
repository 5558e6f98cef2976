import type { moveRows } from '@kettle/contract';
import type * as z from 'zod';
import { bytesOf, idOrNull, type IdBytes } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { type SignedIn, todayOf } from '../../records/users/index';
import { mayChange } from '../../records/rights/index';
import { insertTasks } from '../../activity/tasks/index';
import { work } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';

type AskedRow = z.output<typeof moveRows>['rows'][number];
type Moved = { moved: number; refused: { purpose: string; why: string }[] };

/**
 * Moves rows to later days: a task gets the day, a reason without one becomes a task on it. Rows that cannot be moved are
 * told, and the others move all the same.
 */
export async function moveRoundRows(
  services: Services,
  who: SignedIn,
  rows: readonly AskedRow[],
): Promise<Moved> {
  const today = todayOf(services, who);
  const result = await work(services, who, async (w) => {
    const reply: Moved = { moved: 0, refused: [] };
    w.say($localize`${rows.length}:length: rows of the Round moved`);
    const refuse = (row: AskedRow, why: string) => reply.refused.push({ purpose: row.purpose, why });
    for (const row of rows) {
      if (row.to <= today) {
        refuse(row, $localize`the day has passed`);
        continue;
      }
      if (row.taskId !== null) {
        const [task] = await w.rows<{ owner_id: IdBytes | null }>(
          'SELECT owner_id FROM task WHERE id = :id FOR UPDATE',
          { id: bytesOf(row.taskId) },
        );
        if (!task || !mayChange(who, idOrNull(task.owner_id))) {
          refuse(row, $localize`it belongs to somebody else`);
          continue;
        }
        const changed = await w.change(
          `UPDATE task SET due_on = :to, promised_at = NULL, times_moved = times_moved + 1, version = version + 1
            WHERE id = :id AND version = :version AND state = 'open'`,
          { id: bytesOf(row.taskId), version: row.taskVersion, to: row.to },
        );
        if (changed === 0) refuse(row, $localize`it was changed or done meanwhile`);
        else reply.moved += 1;
        continue;
      }
      const [about] = await w.rows<Row<'deal', 'company_id' | 'owner_id'>>(
        row.contactId === null
          ? 'SELECT owner_id, company_id FROM deal WHERE id = :id'
          : 'SELECT owner_id, company_id FROM contact WHERE id = :id',
        { id: bytesOf(row.contactId ?? row.dealId) },
      );
      if (!about || !mayChange(who, idOrNull(about.owner_id))) {
        refuse(row, $localize`it belongs to somebody else`);
        continue;
      }
      const task = {
        ...row,
        dueOn: row.to,
        promisedAt: null,
        // Whoever moves a row of somebody they lead plans it for them.
        ownerId: idOrNull(about.owner_id) ?? who.id,
        companyId: idOrNull<string>(about.company_id),
        run: null,
      };
      await insertTasks(w, [task]);
      reply.moved += 1;
    }
    return reply;
  });
  return result;
}
