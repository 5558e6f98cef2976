import type { RunEvent } from '@kettle/core/cadences';
import type { Queryable } from '../../platform/database/database';
import type { ContactId } from '@kettle/contract';
import type { Services } from '../../platform/services';
import { refreshNextSteps } from '../../activity/touch/next-steps';
import type { AllSettings } from '../../records/settings/settings';
import { applyEvent } from './apply-event';
import { readRunsOf, type StoredRun } from './run-rows';

/** Tells every active run of a person what happened; null for runs it does not concern. Tethers follow. */
export async function tellRuns(
  tx: Queryable,
  services: Services,
  settings: AllSettings,
  contactId: string,
  eventOf: (stored: StoredRun) => RunEvent | null,
): Promise<void> {
  const runs = await readRunsOf(tx, contactId as ContactId, 'active');
  for (const stored of runs) {
    const event = eventOf(stored);
    if (event !== null) await applyEvent(tx, services, settings, stored, event, null);
  }
  if (runs.length > 0)
    await refreshNextSteps(
      tx,
      { contactIds: [contactId], dealIds: runs.map(({ dealId }) => dealId) },
      services.clock.now(),
    );
}
