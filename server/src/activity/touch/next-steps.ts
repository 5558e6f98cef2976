import type { Queryable } from '../../platform/database/database';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf } from '../../platform/ids';

export interface Concerned {
  readonly contactIds: readonly (string | null)[];
  readonly dealIds: readonly (string | null)[];
}

/**
 * Writes the earliest open task of contacts and deals where their tethers read it, in the transaction that changed the
 * tasks; a deal without one is loose from now on.
 */
export async function refreshNextSteps(tx: Queryable, concerned: Concerned, now: string): Promise<void> {
  const contacts = known(concerned.contactIds);
  const deals = known(concerned.dealIds);
  if (contacts.length > 0)
    await tx.change(`UPDATE contact c SET ${earliest('contact_id', 'c')} WHERE c.id IN (:ids)`, {
      ids: contacts,
    });
  if (deals.length > 0)
    await tx.change(
      `UPDATE deal d SET ${earliest('deal_id', 'd')},
              loose_since = IF(next_step_on IS NULL, COALESCE(loose_since, :now), NULL)
        WHERE d.id IN (:ids)`,
      { ids: deals, now: sqlInstant(now) },
    );
}

/** Relies on task_contact and task_deal. */
function earliest(column: 'contact_id' | 'deal_id', alias: string): string {
  const first = (field: string) =>
    `(SELECT t.${field} FROM task t WHERE t.${column} = ${alias}.id AND t.state = 'open' ORDER BY t.due_on, t.id LIMIT 1)`;
  return `next_step_on = ${first('due_on')}, next_step_channel = ${first('channel')}`;
}

function known(ids: readonly (string | null)[]): Buffer[] {
  return [...new Set(ids.filter((id) => id !== null))].map((id) => bytesOf(id));
}
