import type { RunEvent } from '@kettle/core/cadences';
import { applyEvent } from './apply-event';
import { readRunsOf, type StoredRun } from './run-rows';
import { type Work } from '../../platform/work/work';

/** Tells every active run of a person what happened; null for runs it does not concern. Tethers follow. */
export async function tellRuns(
  w: Work,
  contactId: string,
  eventOf: (stored: StoredRun) => RunEvent | null,
): Promise<void> {
  const runs = await readRunsOf(w, contactId, 'active');
  for (const stored of runs) {
    const event = eventOf(stored);
    if (event !== null) await applyEvent(w, stored, event);
  }
}
