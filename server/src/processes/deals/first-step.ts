import type { NextStep } from '@kettle/contract';
import { localDate } from '@kettle/core/time';
import { Problem } from '../../platform/problem';
import { insertTasks, promisedInstant } from '../../activity/tasks/index';
import { type PersonWork } from '../../platform/work/work';

export interface FirstStep {
  readonly id: string;
  readonly contactId: string | null;
  readonly companyId: string | null;
  readonly next: NextStep;
}

/** The task that a deal goes on with. @throws Problem `reason-needed`, `in-the-past` */
export async function writeFirstStep(w: PersonWork, deal: FirstStep): Promise<void> {
  const { next } = deal;
  if (next.kind === 'none' && next.reason.trim() === '')
    throw new Problem(
      'reason-needed',
      {},
      { fields: [{ path: 'next.reason', message: $localize`say why there is none` }] },
    );
  if (next.kind !== 'task') return;
  if (next.dueOn < localDate(w.now, w.who.zone))
    throw new Problem(
      'in-the-past',
      {},
      { fields: [{ path: 'next.dueOn', message: $localize`lies in the past` }] },
    );
  const about = {
    ownerId: w.who.id,
    contactId: deal.contactId,
    companyId: deal.companyId,
    dealId: deal.id,
    run: null,
  };
  const { channel, purpose, dueOn, minutes } = next;
  await insertTasks(w, [
    { channel, purpose, dueOn, minutes, promisedAt: promisedInstant(next, w.who), ...about },
  ]);
}
