import type { UserId } from '@kettle/contract';
import * as z from 'zod';
import { bytesOf } from '../../platform/ids';
import type { JobKind } from '../../platform/jobs/worker';
import { actingAs } from '../../platform/work/work';
import { readSignedIn } from '../../records/users/index';
import { keepOutcomes, readPart } from './import-rows';
import { fileKinds } from './kinds';
import { readImportTask, readingOf } from './read-import';
import { readImport } from './stored-import';

const payloadShape = z.object({ importId: z.uuid(), from: z.int().min(0), setId: z.uuid() });

/** What the change set of one part of a file is called. */
export const partName = (from: number) => `part ${from}`;

/**
 * Writes one part of a confirmed file. Every row is judged again, so that a part that runs twice, or meets rows that somebody else wrote
 * meanwhile, makes no second copy; what came of each row is kept in the same transaction.
 */
export const importChunk: JobKind = {
  words: $localize`one part of an import`,
  effect: 'database',
  lane: 'bulk',
  isBulk: true,
  run: async (w, payload) => {
    const { importId, from, setId } = payloadShape.parse(payload);
    w.partOf(setId, partName(from));
    const stored = await readImport(w, importId);
    // A part that failed, tried again after the import was undone.
    if (stored.state !== 'applying') return;
    if (stored.layout === null)
      // Confirmed under a version that read the file anew for each part.
      await w.services.heavy.run(readImportTask, { importId });
    const kind = fileKinds[stored.kind];
    const rows = await readPart(w, stored, from, kind.rowsAtOnce);
    if (rows.length === 0) return;
    const who = await readSignedIn(w, stored.userId as UserId, w.now);
    const acting = actingAs(w, who);
    const reading = await readingOf(acting, w.services, who, stored);
    const { made, changed } = await keepOutcomes(w, importId, await kind.write(acting, reading, rows));
    await w.change(
      'UPDATE import_batch SET made = made + :made, changed = changed + :changed WHERE id = :id',
      {
        ...{ id: bytesOf(importId), made, changed },
      },
    );
    w.note('import', importId);
  },
};
