import type { ContactId, DealId, planWalk as asked, plannedWalk, TaskId, WalkStop } from '@kettle/contract';
import type * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { bytesOf, idOf, idOrNull, type IdBytes } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { callable } from './read-facts';

type Asked = z.output<typeof asked>;

interface StopRow extends Row<'contact', 'display_name'> {
  /** Of what was asked for. */
  id: IdBytes;
  task_id: IdBytes<TaskId> | null;
  contact_id: IdBytes<ContactId>;
  deal_id: IdBytes<DealId> | null;
  channel: WalkStop['channel'] | null;
  minutes: number | null;
  callable: number;
}

/** Each with the person it is about; what is done, closed or about nobody is not found. */
const statements: Readonly<Record<Asked['kind'], string>> = {
  task: `SELECT t.id, t.id AS task_id, c.id AS contact_id, t.deal_id, t.channel, t.minutes, c.display_name, ${callable}
     FROM task t LEFT JOIN deal d ON d.id = t.deal_id JOIN contact c ON c.id = COALESCE(t.contact_id, d.contact_id)
    WHERE t.id IN (:ids) AND t.state = 'open' AND NOT t.is_automatic AND c.archived_at IS NULL ORDER BY t.id`,
  contact: `SELECT c.id, NULL AS task_id, c.id AS contact_id, NULL AS deal_id, NULL AS channel, NULL AS minutes, c.display_name, ${callable}
     FROM contact c WHERE c.id IN (:ids) AND c.archived_at IS NULL ORDER BY c.id`,
  deal: `SELECT d.id, NULL AS task_id, c.id AS contact_id, d.id AS deal_id, NULL AS channel, NULL AS minutes, c.display_name, ${callable}
     FROM deal d JOIN contact c ON c.id = d.contact_id
    WHERE d.id IN (:ids) AND d.status IN ('open', 'parked') AND c.archived_at IS NULL ORDER BY d.id`,
  lead: `SELECT l.id, NULL AS task_id, c.id AS contact_id, NULL AS deal_id, NULL AS channel, NULL AS minutes, c.display_name, ${callable}
     FROM sales_lead l JOIN contact c ON c.id = l.contact_id
    WHERE l.id IN (:ids) AND l.status <> 'qualified' AND l.archived_at IS NULL AND c.archived_at IS NULL ORDER BY l.id`,
};

/** What a walk through chosen records goes through, in the order they were given: nobody twice by the same channel. */
export async function planWalk(
  { database, settings }: Services,
  { kind, ids }: Asked,
): Promise<z.output<typeof plannedWalk>> {
  const [rows, { round }] = await Promise.all([readStops(database, kind, ids), settings.read(database)]);
  const known = new Map(rows.map((row) => [idOf<string>(row.id), row]));
  const stops = new Map<string, WalkStop>();
  for (const id of ids) {
    const row = known.get(id);
    if (row === undefined) continue;
    // Whoever cannot be called is written to.
    const channel = row.channel ?? (row.callable === 1 ? 'call' : 'email');
    const stop = {
      taskId: idOrNull(row.task_id),
      contactId: idOf(row.contact_id),
      dealId: idOrNull(row.deal_id),
      channel,
      minutes: row.minutes ?? round.minutes[channel],
      name: row.display_name,
    };
    const key = stop.taskId ?? `${stop.contactId} ${stop.dealId ?? ''} ${channel}`;
    if (!stops.has(key)) stops.set(key, stop);
  }
  return { stops: [...stops.values()], left: ids.length - stops.size };
}

const readStops = (db: Queryable, kind: Asked['kind'], ids: readonly string[]) =>
  db.rows<StopRow>(statements[kind], { ids: ids.map((id) => bytesOf(id)) });
