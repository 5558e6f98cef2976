import { undoDays, undoPart } from '../../activity/changes/index';
import { wholeNumber } from '../../platform/database/values';
import { bytesOf, idOf } from '../../platform/ids';
import { countParts } from '../../platform/jobs/job-table';
import type { JobKind } from '../../platform/jobs/worker';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import { actingAs, work } from '../../platform/work/work';
import { type SignedIn, readSignedIn } from '../../records/users/index';
import {
  askForParts,
  bulkKind,
  bulkUndoKind,
  lockStored,
  markItem,
  partKeys,
  partName,
  payloadShape,
  readItems,
  readStored,
  settle,
} from './stored-bulk';

/** Asks for a bulk change to be undone, part by part, for 30 days. */
export async function beginUndo(services: Services, who: SignedIn, bulkId: string): Promise<void> {
  await work(services, who, async (w) => {
    const { userId, at, setId, state } = await lockStored(w, bulkId);
    if (userId !== who.id) throw new Problem('not-found');
    if (setId === null) throw new Problem('undo-expired');
    if (Date.parse(w.now) - Date.parse(at) > undoDays * 86_400_000) throw new Problem('undo-expired');
    if (state === 'undoing' || state === 'undone') throw new Problem('already-done');
    const parts = await countParts(w, bulkKind, partKeys(bulkKind, bulkId));
    if (parts.waiting > 0)
      throw new Problem('cannot-undo', { why: $localize`it is still being carried out` });
    await w.change("UPDATE bulk SET state = 'undoing' WHERE id = :id", { id: bytesOf(bulkId) });
    const [count] = await w.rows<{ count: string }>(
      'SELECT COUNT(*) AS count FROM bulk_item WHERE bulk_id = :id',
      { id: bytesOf(bulkId) },
    );
    await askForParts(w, { kind: bulkUndoKind, bulkId, setId, count: wholeNumber(count?.count ?? 0) });
    await w.change('UPDATE change_set SET undone_by_id = :by WHERE id = :id', {
      by: bytesOf(w.id),
      id: bytesOf(setId),
    });
  });
}

/** Undoes one part of a bulk change, by the rights of whoever made it; a contact that was changed since stays as it is now. */
export const bulkUndoJob: JobKind = {
  words: $localize`undoing one part of a change of many`,
  effect: 'database',
  lane: 'bulk',
  run: async (w, payload) => {
    const { bulkId, from, setId } = payloadShape.parse(payload);
    const { userId } = await readStored(w, bulkId);
    const own = actingAs(w, await readSignedIn(w, userId, w.now));
    const { isKnown, kept } = await undoPart(own, setId, partName(from));
    const items = await readItems(w, bulkId, from, ['changed']);
    if (!isKnown && items.length > 0)
      throw new Error(`bulk ${bulkId}: what ${partName(from)} changed is not known`);
    for (const item of items) {
      const reason = kept.get(idOf(item.contact_id));
      const mark = reason === undefined ? { state: 'undone' } : { state: 'kept', reason };
      await markItem(w, bulkId, item.contact_id, mark);
    }
    await settle(w, bulkId, ['changed'], 'undone');
    w.note('bulk', bulkId);
  },
};
