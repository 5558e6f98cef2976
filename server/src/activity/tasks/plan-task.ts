import type { createTask, PlainDate, UserId } from '@kettle/contract';
import { everComes, localDate, readRepeat } from '@kettle/core/time';
import type * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { bytesOf, idOrNull, type IdBytes } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { PersonWork } from '../../platform/work/work';
import { notify } from '../../records/notifications/index';
import { assertMayChange } from '../../records/rights/index';
import type { SignedIn } from '../../records/users/index';
import { planReminder } from './remind';
import { insertTask, promisedInstant, readTask, type Task } from './tasks';

/**
 * Plans a task for oneself or a colleague, who hears of it.
 * @throws Problem `in-the-past`, `not-a-rule`, `not-found`, `not-yours`, `invalid-request` for an owner who is nobody
 */
export async function planTask(w: PersonWork, body: z.output<typeof createTask>): Promise<Task> {
  assertAhead(body.dueOn, w.now, w.who);
  assertRule(body.repeats, body.dueOn);
  const about = await readAbout(w, body);
  await assertMayChange(w, w.who, about.ownerId);
  const { promisedMinute, ...fields } = body;
  const owner = await readOwner(w, body.ownerId ?? w.who.id);
  const promisedAt = promisedInstant({ dueOn: body.dueOn, promisedMinute }, owner);
  const draft = { ...fields, ...about, promisedAt, ownerId: owner.id, madeBy: w.who.id, run: null };
  const id = await insertTask(w, draft);
  await planReminder(w, id);
  const made = await readTask(w, id);
  await tellOwner(w, made);
  await w.derive();
  w.say($localize`Task planned: ${made.purpose}:purpose:`);
  return made;
}

export function assertAhead(dueOn: string, now: string, who: SignedIn): void {
  if (dueOn >= localDate(now, who.zone)) return;
  throw new Problem('in-the-past', {}, { fields: [{ path: 'dueOn', message: $localize`lies in the past` }] });
}

/** @throws Problem `not-a-rule` with the reason, also for a rule that falls on no day */
export function assertRule(repeats: string | null, from: PlainDate): void {
  if (repeats === null) return;
  const read = readRepeat(repeats);
  if (typeof read !== 'string' && everComes(repeats, from)) return;
  const message = typeof read === 'string' ? read : $localize`never comes: no day fits it`;
  throw new Problem('not-a-rule', {}, { fields: [{ path: 'repeats', message }] });
}

export async function readOwner(db: Queryable, id: string): Promise<{ id: UserId; zone: string }> {
  const [owner] = await db.rows<Row<'app_user', 'zone'>>('SELECT zone FROM app_user WHERE id = :id', {
    id: bytesOf(id),
  });
  if (!owner)
    throw new Problem(
      'invalid-request',
      {},
      { fields: [{ path: 'ownerId', message: $localize`is nobody here` }] },
    );
  return { id: id as UserId, zone: owner.zone };
}

export async function tellOwner(w: PersonWork, task: Task): Promise<void> {
  if (task.ownerId === w.who.id) return;
  const about = task.contactName ?? task.dealName;
  const path = task.contactId ? `/people/${task.contactId}` : `/deals/${task.dealId ?? ''}`;
  await notify(
    w,
    'given',
    [task.ownerId],
    $localize`${w.who.name}:name: gave you a task: ${task.purpose}:purpose:${about ? ` · ${about}` : ''}:about:`,
    path,
  );
}

/** Company and owner of what a task is about; a deal's task is also its contact's. */
export async function readAbout(tx: Queryable, about: { contactId: string | null; dealId: string | null }) {
  const [row] = await tx.rows<Row<'contact', 'company_id' | 'owner_id'> & { contact_id: IdBytes | null }>(
    about.dealId === null
      ? 'SELECT id AS contact_id, company_id, owner_id FROM contact WHERE id = :id'
      : 'SELECT contact_id, company_id, owner_id FROM deal WHERE id = :id',
    { id: bytesOf(about.dealId ?? about.contactId) },
  );
  if (!row) throw new Problem('not-found');
  return {
    contactId: about.contactId ?? idOrNull<string>(row.contact_id),
    companyId: idOrNull<string>(row.company_id),
    ownerId: idOrNull<string>(row.owner_id),
  };
}
