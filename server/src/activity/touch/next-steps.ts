import { bytesOf } from '../../platform/ids';
import type { Writing } from '../../platform/work/work';
import type { Written } from '../../platform/work/written';

const taskFields = ['state', 'due_on', 'promised_at', 'channel', 'contact_id', 'deal_id', 'finished_at'];
const dealFields = ['status', 'opened_at', 'created_at'];

/** Contacts and deals whose tasks a unit of work wrote, and deals that it opened or closed. */
export function withNewSteps(written: Written): Concerned {
  return {
    contactIds: written.ids('task', 'contact_id', taskFields),
    dealIds: [
      ...new Set([...written.ids('task', 'deal_id', taskFields), ...written.ids('deal', 'id', dealFields)]),
    ],
  };
}

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
    await w.later(`UPDATE contact c SET ${contactSteps('c').join(', ')} WHERE c.id IN (:ids)`, {
      ids: contactIds.map((id) => bytesOf(id)),
    });
  if (dealIds.length > 0)
    await w.later(
      `UPDATE deal d SET ${earliest('deal_id', 'd').join(', ')}, d.loose_since = ${looseSince}
        WHERE d.id IN (:ids)`,
      { ids: dealIds.map((id) => bytesOf(id)) },
    );
}

function earliest(column: 'contact_id' | 'deal_id', alias: string): string[] {
  const first = (field: string) =>
    `(SELECT step.${field} FROM task step WHERE step.${column} = ${alias}.id AND step.state = 'open'
      ORDER BY step.due_on, step.promised_at IS NULL, step.promised_at, step.id LIMIT 1)`;
  return [
    `${alias}.next_step_on = ${first('due_on')}`,
    `${alias}.next_step_channel = ${first('channel')}`,
    `${alias}.next_step_at = ${first('promised_at')}`,
  ];
}

/** What a contact's next step is, as columns that are set. */
export const contactSteps = (alias: string): string[] => earliest('contact_id', alias);

const opened = 'COALESCE(d.opened_at, d.created_at)';
const looseSince = `IF(d.status = 'open' AND NOT EXISTS (SELECT 1 FROM task t WHERE t.deal_id = d.id AND t.state = 'open'),
  GREATEST(${opened}, COALESCE((SELECT MAX(t.finished_at) FROM task t WHERE t.deal_id = d.id AND t.state <> 'open'), ${opened})), NULL)`;
