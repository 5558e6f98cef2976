import type { Channel, PlainDate, Task, UserId } from '@kettle/contract';
import { localMinute } from '@kettle/core/time';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf } from '../../platform/ids';
import type { PersonWork } from '../../platform/work/work';
import { assertAhead, assertRule, readAbout, readOwner, tellOwner } from './plan-task';
import { planReminder } from './remind';
import { promisedInstant, readTask } from './tasks';

/** What can be changed of an open task; what is left out stays as it is. */
export interface TaskChange {
  readonly channel?: Channel;
  readonly purpose?: string;
  readonly dueOn?: PlainDate;
  /** Minute of its owner's day. */
  readonly promisedMinute?: number | null;
  readonly minutes?: number;
  readonly ownerId?: UserId;
  readonly repeats?: string | null;
  readonly remindMinutes?: number | null;
  readonly contactId?: string | null;
  readonly dealId?: string | null;
}

/**
 * Changes an open task that the caller locked and may change; a new owner hears of it.
 * @throws Problem `in-the-past`, `not-a-rule`, `not-found` for a person or deal that is not there
 */
export async function writeTask(w: PersonWork, id: string, change: TaskChange): Promise<Task> {
  const before = await readTask(w, id);
  const next = { ...before, ...change };
  assertRule(next.repeats, next.dueOn);
  if (next.dueOn !== before.dueOn) assertAhead(next.dueOn, w.now, w.who);
  const owner = await readOwner(w, next.ownerId);
  const promisedMinute =
    change.promisedMinute === undefined ? promisedMinuteOf(before, owner.zone) : change.promisedMinute;
  // Columns are set one after the other: whether it moved is asked of the day it had.
  await w.change(
    `UPDATE task SET times_moved = times_moved + IF(due_on < :dueOn, 1, 0), channel = :channel, purpose = :purpose, due_on = :dueOn,
            promised_at = :promisedAt, minutes = :minutes, owner_id = :owner, repeats = :repeats,
            repeats_from = IF(:repeats IS NULL, NULL, COALESCE(repeats_from, :dueOn)), remind_minutes = :remind, version = version + 1
      WHERE id = :id`,
    {
      id: bytesOf(id),
      channel: next.channel,
      purpose: next.purpose,
      minutes: next.minutes,
      repeats: next.repeats,
      dueOn: next.dueOn,
      owner: bytesOf(next.ownerId),
      remind: next.remindMinutes,
      promisedAt: sqlInstant(promisedInstant({ dueOn: next.dueOn, promisedMinute }, owner)),
    },
  );
  if (next.contactId !== before.contactId || next.dealId !== before.dealId) await writeAbout(w, id, next);
  await planReminder(w, id);
  const after = await readTask(w, id);
  if (after.ownerId !== before.ownerId) await tellOwner(w, after);
  return after;
}

/** It is about somebody else from now on. */
async function writeAbout(
  w: PersonWork,
  id: string,
  about: { readonly contactId: string | null; readonly dealId: string | null },
): Promise<void> {
  const { contactId, companyId } = await readAbout(w, about);
  await w.change(
    'UPDATE task SET contact_id = :contact, company_id = :company, deal_id = :deal WHERE id = :id',
    {
      id: bytesOf(id),
      contact: bytesOf(contactId),
      company: bytesOf(companyId),
      deal: bytesOf(about.dealId),
    },
  );
}

/** The minute of its owner's day that a task was promised for. */
export const promisedMinuteOf = ({ promisedAt }: Task, zone: string): number | null =>
  promisedAt === null ? null : localMinute(promisedAt, zone);
