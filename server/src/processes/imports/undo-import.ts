import * as z from 'zod';
import { undoDays, undoPart } from '../../activity/changes/index';
import { instantOf } from '../../platform/database/values';
import { Problem } from '../../platform/problem';
import { bytesOf, idOf } from '../../platform/ids';
import { countParts, enqueue } from '../../platform/jobs/job-table';
import type { JobKind } from '../../platform/jobs/worker';
import type { Services } from '../../platform/services';
import { actingAs, work } from '../../platform/work/work';
import { type SignedIn, readSignedIn } from '../../records/users/index';
import { fileKinds } from './kinds';
import { chunkKind } from './stored-import';
import { partName } from './write-part';
import type { Row } from '../../platform/database/schema.generated';

export const importUndoKind = 'import-undo-part';

/** Asks for an import to be undone, part by part, for 30 days. @throws Problem `not-found`, `already-done`, `undo-expired` */
export async function undoImport(services: Services, who: SignedIn, importId: string): Promise<void> {
  await work(services, who, async (w) => {
    const [stored] = await w.rows<
      Row<'import_batch', 'user_id' | 'state' | 'applied_at' | 'set_id' | 'file_name' | 'kind'>
    >(
      'SELECT user_id, state, applied_at, set_id, file_name, kind FROM import_batch WHERE id = :id FOR UPDATE',
      {
        id: bytesOf(importId),
      },
    );
    if (!stored || (idOf(stored.user_id) !== who.id && who.role === 'rep')) throw new Problem('not-found');
    if (stored.applied_at === null || stored.set_id === null) throw new Problem('not-found');
    if (Date.parse(w.now) - Date.parse(instantOf(stored.applied_at)) > undoDays * 86_400_000)
      throw new Problem('undo-expired');
    const parts = await countParts(w, chunkKind, `${chunkKind}:${importId}:`);
    if (stored.state === 'undone' || stored.state === 'undoing') throw new Problem('already-done');
    if (parts.waiting > 0) throw new Problem('cannot-undo', { why: $localize`it is still being written` });
    await w.change(
      "UPDATE import_batch SET state = 'undoing', kept = 0, version = version + 1 WHERE id = :id",
      {
        id: bytesOf(importId),
      },
    );
    // The last part first, as it was written last.
    const atOnce = fileKinds[stored.kind].rowsAtOnce;
    for (let from = (parts.count - 1) * atOnce; from >= 0; from -= atOnce)
      await enqueue(w, {
        kind: importUndoKind,
        dedupeKey: `${importUndoKind}:${importId}:${from}`,
        payload: { importId, from, setId: idOf(stored.set_id) },
        dueAt: w.now,
      });
    await w.change('UPDATE change_set SET undone_by_id = :by WHERE id = :id', {
      by: bytesOf(w.id),
      id: stored.set_id,
    });
    w.say($localize`Undone: imported ${stored.file_name}:filename:`);
    w.note('import', importId);
  });
}

const payloadShape = z.object({ importId: z.uuid(), from: z.int().min(0), setId: z.uuid() });

/** Undoes one part of an import, by the rights of whoever imported; people who were changed since stay. */
export const importUndoJob: JobKind = {
  words: $localize`undoing one part of an import`,
  effect: 'database',
  lane: 'bulk',
  isBulk: true,
  run: async (w, payload) => {
    const { importId, from, setId } = payloadShape.parse(payload);
    const [stored] = await w.rows<Row<'import_batch', 'user_id'>>(
      'SELECT user_id FROM import_batch WHERE id = :id',
      {
        id: bytesOf(importId),
      },
    );
    if (!stored) return;
    const own = actingAs(w, await readSignedIn(w, idOf<SignedIn['id']>(stored.user_id), w.now));
    const { kept } = await undoPart(own, setId, partName(from));
    await w.change(
      `UPDATE import_batch SET kept = kept + :kept, state = IF(EXISTS (SELECT 1 FROM job WHERE kind = :kind AND dedupe_key LIKE :key
              AND state NOT IN ('done', 'failed')), state, 'undone') WHERE id = :id`,
      {
        id: bytesOf(importId),
        kept: kept.size,
        kind: importUndoKind,
        key: `${importUndoKind}:${importId}:%`,
      },
    );
    w.note('import', importId);
  },
};
