import type { ConfirmImport } from '@kettle/contract';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf } from '../../platform/ids';
import { enqueue, retryFailed } from '../../platform/jobs/job-table';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import { work } from '../../platform/work/work';
import type { SignedIn } from '../../records/users/index';
import { countRows } from './import-rows';
import { fileKinds } from './kinds';
import { readWaitedFor } from './package';
import { readOwnImport, readPreview, readWhole } from './read-preview';
import { chunkKind } from './stored-import';

/**
 * Has a judged file written, part by part, in the background.
 * @throws Problem `stale`; `not-allowed` for what is an admin's; `import-waits` while another file of its package is to be written before
 */
export async function confirmImport(
  services: Services,
  who: SignedIn,
  id: string,
  body: ConfirmImport,
): Promise<void> {
  const stored = await readWhole(services, (await readOwnImport(services.database, id, who)).id);
  // What is sold is an admin's to say.
  if (stored.kind === 'products' && who.role !== 'admin') throw new Problem('not-allowed');
  await work(services, who, async (w) => {
    const before = await readWaitedFor(w, stored);
    if (before !== null) throw new Problem('import-waits', { file: before });
    const changed = await w.change(
      `UPDATE import_batch SET state = 'applying', with_likely = :withLikely, updates = :updates, leads_as = :leadsAs, applied_at = :now, set_id = :set, version = version + 1
        WHERE id = :id AND version = :version AND state = 'judged'`,
      {
        id: bytesOf(stored.id),
        version: body.version,
        withLikely: body.withLikely,
        updates: body.updates,
        leadsAs: stored.kind === 'people' ? body.leadsAs : null,
        now: sqlInstant(w.now),
        set: bytesOf(w.id),
      },
    );
    if (changed === 0) throw new Problem('stale', {}, { current: await readPreview(services, stored.id) });
    const rows = await countRows(w, stored.id);
    for (let from = 0; from < rows; from += fileKinds[stored.kind].rowsAtOnce)
      await enqueue(w, {
        kind: chunkKind,
        dedupeKey: `${chunkKind}:${stored.id}:${from}`,
        payload: { importId: stored.id, from, setId: w.id },
        dueAt: w.now,
      });
    w.say($localize`Imported ${stored.fileName}:fileName:`);
    w.note('import', stored.id);
  });
}

/** Tries the parts again that failed for good; nothing is written twice. @throws Problem `not-found` when none failed */
export async function retryImport(services: Services, who: SignedIn, id: string): Promise<void> {
  const stored = await readOwnImport(services.database, id, who);
  await work(services, who, async (w) => {
    const changed =
      stored.state === 'applying' ? await retryFailed(w, chunkKind, `${chunkKind}:${stored.id}:`) : 0;
    if (changed === 0) throw new Problem('not-found');
    w.note('import', stored.id);
  });
}
