import type { Instant, LeadStatus } from '@kettle/contract';
import type { TouchEntry } from '../touch';

type LiveStatus = Extract<LeadStatus, 'untried' | 'trying' | 'in-talks'>;

const order: readonly LiveStatus[] = ['untried', 'trying', 'in-talks'];

export const isLive = (status: LeadStatus): status is LiveStatus =>
  (order as readonly LeadStatus[]).includes(status);

/**
 * Where a lead stands by what happened since it was last set by hand: the first touch that goes out makes it `trying`, a
 * reply or a held conversation `in-talks`. What happened never takes it back behind what a person said; when an entry of
 * the journal is undone, so is what it brought. Qualified and set aside stay as they are.
 */
export function leadStatusAfter(
  byHand: { readonly status: LeadStatus; readonly at: Instant },
  entries: readonly Pick<TouchEntry, 'at' | 'kind' | 'direction' | 'counts'>[],
): LeadStatus {
  if (!isLive(byHand.status)) return byHand.status;
  let reached = order.indexOf(byHand.status);
  for (const entry of entries) {
    if (entry.at < byHand.at || entry.kind === 'note' || entry.kind === 'system') continue;
    if (entry.counts === 'conversation') return 'in-talks';
    // A message from outside is a reply, unless it stands for nothing, as an automatic one does.
    if (entry.direction === 'in' && entry.counts !== 'none') return 'in-talks';
    if (entry.direction !== 'in' && entry.counts === 'attempt') reached = Math.max(reached, 1);
  }
  return order[reached]!;
}
