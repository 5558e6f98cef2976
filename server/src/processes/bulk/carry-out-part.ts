import type { BulkAct } from '@kettle/contract';
import { idOf } from '../../platform/ids';
import type { JobKind } from '../../platform/jobs/worker';
import { attempt } from '../../platform/work/attempt';
import { actingAs, type PersonWork } from '../../platform/work/work';
import { readContact } from '../../records/contacts/index';
import { readSignedIn } from '../../records/users/index';
import { mayChange } from '../../records/rights/index';
import { carryOut, stepFor } from './bulk-act';
import { lockStored, markItem, partName, payloadShape, readItems, settle } from './stored-bulk';

/** One part of a bulk change. A contact that cannot be changed is marked with the reason, the others are changed. */
export const bulkJob: JobKind = {
  words: $localize`one part of a change of many`,
  effect: 'database',
  lane: 'bulk',
  run: async (w, payload) => {
    const { bulkId, from, setId } = payloadShape.parse(payload);
    w.partOf(setId, partName(from));
    const { act, userId, state } = await lockStored(w, bulkId);
    // A part that is tried again after all of it was undone has nothing to do.
    if (state !== 'running') return;
    const own = actingAs(w, await readSignedIn(w, userId, w.now));
    for (const item of await readItems(w, bulkId, from, ['waiting']))
      await markItem(w, bulkId, item.contact_id, await changeOne(own, item.contact_id, act, bulkId));
    await settle(w, bulkId, ['waiting'], 'done');
    w.note('bulk', bulkId);
  },
};

async function changeOne(
  w: PersonWork,
  id: Buffer,
  act: BulkAct,
  bulkId: string,
): Promise<{ state: string; reason?: string }> {
  let done: { state: string; reason?: string } = { state: 'changed' };
  const refused = await attempt(w, async () => {
    const contact = await readContact(w, idOf(id));
    if (!mayChange(w.who, contact.ownerId))
      done = {
        state: 'failed',
        reason: $localize`belongs to ${contact.ownerName ?? $localize`a colleague`}:ownerName:`,
      };
    else if (stepFor(contact, act).isSame) done = { state: 'same' };
    else await carryOut(w, contact, act, bulkId);
  });
  return refused === null
    ? done
    : { state: 'failed', reason: refused.fields?.[0]?.message ?? refused.message };
}
