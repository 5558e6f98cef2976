import type { Channel, ContactId, DealId, Instant, PlainDate, Task, TaskId, UserId } from '@kettle/contract';

import type { Queryable } from '../../db/database';
import { instantOrNull, sqlInstant } from '../../db/values';
import { bytesOf, idOf, idOrNull, newId, type IdBytes } from '../../ids';
import { Problem } from '../../http/problem';

export type { Task };

interface TaskRow {
  id: IdBytes;
  channel: Channel;
  purpose: string;
  due_on: PlainDate;
  promised_at: string | null;
  minutes: number;
  state: Task['state'];
  owner_id: IdBytes;
  contact_id: IdBytes | null;
  contact_name: string | null;
  deal_id: IdBytes | null;
  deal_name: string | null;
  cadence_name: string | null;
  run_step: number | null;
  steps: number | null;
  times_moved: number;
  version: number;
}

const select = `SELECT t.id, t.channel, t.purpose, t.due_on, t.promised_at, t.minutes, t.state, t.owner_id, t.contact_id,
    TRIM(CONCAT(c.given_name, ' ', c.family_name)) AS contact_name, t.deal_id, d.name AS deal_name, ca.name AS cadence_name,
    t.run_step, JSON_LENGTH(v.definition, '$.steps') AS steps, t.times_moved, t.version
  FROM task t
  LEFT JOIN contact c ON c.id = t.contact_id
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
    contactId: idOrNull<ContactId>(row.contact_id),
    contactName: row.contact_name,
    dealId: idOrNull<DealId>(row.deal_id),
    dealName: row.deal_name,
    runWords: row.cadence_name && `${row.cadence_name}, step ${(row.run_step ?? 0) + 1} of ${row.steps ?? 0}`,
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
  readonly run: { readonly id: string; readonly step: number; readonly spacingDays: number | null } | null;
}

/** Adds tasks in one statement and returns their ids in the same order. */
export async function insertTasks(tx: Queryable, tasks: readonly NewTask[], now: string): Promise<TaskId[]> {
  if (tasks.length === 0) return [];
  const ids = tasks.map(() => newId<TaskId>());
  await tx.change(
    `INSERT INTO task (id, channel, purpose, due_on, promised_at, minutes, owner_id, contact_id, company_id, deal_id,
        run_id, run_step, spacing_days, created_at) VALUES :rows`,
    {
      rows: tasks.map((task, index) => [
        bytesOf(ids[index]!),
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
        task.run?.spacingDays ?? null,
        sqlInstant(now),
      ]),
    },
  );
  return ids;
}
