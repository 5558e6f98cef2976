import { bytesOf } from '../../platform/ids';
import type { Deriver, Writing } from '../../platform/work/work';

const taskFields = ['state', 'due_on', 'promised_at', 'channel', 'contact_id', 'deal_id', 'finished_at'];
const dealFields = ['status', 'opened_at', 'created_at'];

/** Next steps of the contacts and deals whose tasks a unit of work wrote; a deal without one is loose. */
export const deriveNextSteps: Deriver = async (w, written) => {
  const contacts = written.ids('task', 'contact_id', taskFields);
  const deals = new Set([
    ...written.ids('task', 'deal_id', taskFields),
    ...written.ids('deal', 'id', dealFields),
  ]);
  await refreshNextSteps(w, { contactIds: contacts, dealIds: [...deals] });
  for (const id of contacts) w.note('contact', id);
  for (const id of deals) w.note('deal', id);
};

export interface Concerned {
  readonly contactIds: readonly string[];
  readonly dealIds: readonly string[];
}

/**
 * Writes the earliest open task of contacts and deals where their tethers read it. An open deal without one is loose since its last
 * task ended, or since it was opened, whichever is later. Relies on task_contact and task_deal.
 */
export async function refreshNextSteps(
  w: Pick<Writing, 'later'>,
  { contactIds, dealIds }: Concerned,
): Promise<void> {
  if (contactIds.length > 0)
    await w.later(`UPDATE contact c SET ${earliest('contact_id', 'c')} WHERE c.id IN (:ids)`, {
      ids: contactIds.map((id) => bytesOf(id)),
    });
  if (dealIds.length > 0)
    await w.later(
      `UPDATE deal d SET ${earliest('deal_id', 'd')}, d.loose_since = ${looseSince}
        WHERE d.id IN (:ids)`,
      { ids: dealIds.map((id) => bytesOf(id)) },
    );
}

function earliest(column: 'contact_id' | 'deal_id', alias: string): string {
  const first = (field: string) =>
    `(SELECT t.${field} FROM task t WHERE t.${column} = ${alias}.id AND t.state = 'open' 
      ORDER BY t.due_on, t.promised_at IS NULL, t.promised_at, t.id LIMIT 1)`;
  return `${alias}.next_step_on = ${first('due_on')}, ${alias}.next_step_channel = ${first('channel')},
    ${alias}.next_step_at = ${first('promised_at')}`;
}

const opened = 'COALESCE(d.opened_at, d.created_at)';
const looseSince = `IF(d.status = 'open' AND NOT EXISTS (SELECT 1 FROM task t WHERE t.deal_id = d.id AND t.state = 'open'),
  GREATEST(${opened}, COALESCE((SELECT MAX(t.finished_at) FROM task t WHERE t.deal_id = d.id AND t.state <> 'open'), ${opened})), NULL)`;
