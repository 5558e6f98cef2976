import type { Channel, ContactId, DealId, Instant, PlainDate, Task, TaskId, UserId } from '@kettle/contract';
import { localMoment } from '@kettle/core/time';

import type { Queryable } from '../../platform/database/database';
import { instantOrNull, sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf, idOrNull, newId, type IdBytes } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { Row, Tables } from '../../platform/database/schema.generated';
import type { Writing } from '../../platform/work/work';

export type { Task };

interface TaskRow extends Row<
  'task',
  | 'id'
  | 'channel'
  | 'purpose'
  | 'promised_at'
  | 'minutes'
  | 'state'
  | 'owner_id'
  | 'repeats'
  | 'remind_minutes'
  | 'drop_reason'
  | 'finished_at'
  | 'contact_id'
  | 'deal_id'
  | 'run_step'
  | 'times_moved'
  | 'version'
> {
  owner_name: Tables['app_user']['name'];
  contact_name: Tables['contact']['display_name'];
  due_on: PlainDate;
  company_name: string | null;
  deal_name: string | null;
  cadence_name: string | null;
  steps: number | null;
}

/** All are outer joins, so that the database need not look for the best order of eight tables each time. */
const select = `SELECT t.id, t.channel, t.purpose, t.due_on, t.promised_at, t.minutes, t.state, t.owner_id, o.name AS owner_name,
    co.name AS company_name, t.repeats, t.remind_minutes, t.drop_reason, t.finished_at, t.contact_id,
    c.display_name AS contact_name, t.deal_id, d.name AS deal_name, ca.name AS cadence_name,
    t.run_step, JSON_LENGTH(v.definition, '$.steps') AS steps, t.times_moved, t.version
  FROM task t
  LEFT JOIN app_user o ON o.id = t.owner_id
  LEFT JOIN contact c ON c.id = t.contact_id
  LEFT JOIN company co ON co.id = t.company_id
  LEFT JOIN deal d ON d.id = t.deal_id
  LEFT JOIN run r ON r.id = t.run_id
  LEFT JOIN cadence ca ON ca.id = r.cadence_id
  LEFT JOIN cadence_version v ON v.id = r.cadence_version_id`;

function taskOf(row: TaskRow): Task {
  return {
    id: idOf(row.id),
    channel: row.channel,
    purpose: row.purpose,
    dueOn: row.due_on,
    promisedAt: instantOrNull(row.promised_at),
    minutes: row.minutes,
    state: row.state,
    ownerId: idOf<UserId>(row.owner_id),
    ownerName: row.owner_name,
    companyName: row.company_name,
    repeats: row.repeats,
    remindMinutes: row.remind_minutes,
    dropReason: row.drop_reason,
    finishedAt: instantOrNull(row.finished_at),
    contactId: idOrNull<ContactId>(row.contact_id),
    contactName: row.contact_name,
    dealId: idOrNull<DealId>(row.deal_id),
    dealName: row.deal_name,
    runWords:
      row.cadence_name &&
      $localize`${row.cadence_name}:cadencename:, step ${(row.run_step ?? 0) + 1}:runstep: of ${row.steps ?? 0}:steps:`,
    timesMoved: row.times_moved,
    version: row.version,
  };
}

/** @throws Problem `not-found` */
export async function readTask(db: Queryable, id: string): Promise<Task> {
  const [row] = await db.rows<TaskRow>(`${select} WHERE t.id = :id`, { id: bytesOf(id) });
  if (!row) throw new Problem('not-found');
  return taskOf(row);
}

/** Open tasks of a contact or a deal, soonest first. */
export async function openTasks(
  db: Queryable,
  about: { contactId?: string; dealId?: string },
): Promise<Task[]> {
  const column = about.dealId === undefined ? 'contact_id' : 'deal_id';
  const rows = await db.rows<TaskRow>(
    `${select} WHERE t.${column} = :id AND t.state = 'open' ORDER BY t.due_on, t.id LIMIT 200`,
    { id: bytesOf(about.dealId ?? about.contactId ?? null) },
  );
  return rows.map(taskOf);
}

export interface NewTask {
  readonly channel: Channel;
  readonly purpose: string;
  readonly dueOn: PlainDate;
  readonly promisedAt: Instant | null;
  readonly minutes: number;
  readonly ownerId: string;
  readonly contactId: string | null;
  readonly companyId: string | null;
  readonly dealId: string | null;
  readonly madeBy?: string | null;
  readonly repeats?: string | null;
  readonly remindMinutes?: number | null;
  readonly bulkId?: string | null;
  /** It goes by itself at its moment: planned, but nobody's work. */
  readonly isAutomatic?: boolean;
  readonly run: { readonly id: string; readonly step: number; readonly spacingDays: number | null } | null;
}

/** Adds tasks in one statement and returns their ids in the same order. */
export async function insertTask(w: Writing, task: NewTask): Promise<TaskId> {
  const [id] = await insertTasks(w, [task]);
  return id!;
}

export async function insertTasks(w: Writing, tasks: readonly NewTask[]): Promise<TaskId[]> {
  if (tasks.length === 0) return [];
  const ids = tasks.map(() => newId<TaskId>());
  await w.later(
    `INSERT INTO task (id, channel, purpose, due_on, promised_at, minutes, owner_id, contact_id, company_id, deal_id,
        run_id, run_step, is_automatic, spacing_days, made_by, repeats, repeats_from, remind_minutes, bulk_id, created_at) VALUES :rows`,
    {
      rows: tasks.map((task, index) => [
        bytesOf(ids[index]),
        task.channel,
        task.purpose,
        task.dueOn,
        sqlInstant(task.promisedAt),
        task.minutes,
        bytesOf(task.ownerId),
        bytesOf(task.contactId),
        bytesOf(task.companyId),
        bytesOf(task.dealId),
        bytesOf(task.run?.id),
        task.run?.step ?? null,
        task.isAutomatic === true ? 1 : 0,
        task.run?.spacingDays ?? null,
        bytesOf(task.madeBy),
        task.repeats ?? null,
        task.repeats ? task.dueOn : null,
        task.remindMinutes ?? null,
        bytesOf(task.bulkId),
        sqlInstant(w.now),
      ]),
    },
  );
  return ids;
}

/** Tasks by id, in the order of the ids. */
export async function readTasksOf(db: Queryable, ids: readonly IdBytes[]): Promise<Task[]> {
  if (ids.length === 0) return [];
  const rows = await db.rows<TaskRow>(`${select} WHERE t.id IN (:ids)`, { ids: [...ids] });
  const found = new Map(rows.map((row) => [row.id.toString('hex'), taskOf(row)]));
  return ids.flatMap((id) => found.get(id.toString('hex')) ?? []);
}

/** The instant a promised time names, null when none was promised. */
export function promisedInstant(
  next: { dueOn: string; promisedMinute: number | null },
  who: { zone: string },
): string | null {
  return next.promisedMinute === null ? null : localMoment(next.dueOn, next.promisedMinute, who.zone);
}
