import type { Feature } from '../../platform/feature';
import { undoDays } from '../../activity/changes/index';
import { sweptAtOnce } from '../../platform/jobs/sweep';
import { readImportAgain, readImportTask, takeImport, takeImportTask } from './read-import';
import { importsRoutes } from './imports.routes';
import { chunkKind } from './stored-import';
import { importChunk } from './write-part';
import { importUndoJob, importUndoKind } from './undo-import';

export const importsFeature = {
  name: 'imports',
  routes: importsRoutes,
  jobs: () => ({ [chunkKind]: importChunk, [importUndoKind]: importUndoJob }),
  heavy: { [takeImportTask]: takeImport, [readImportTask]: readImportAgain },
  // Rows of a file that was written, or never confirmed.
  swept: [
    `DELETE FROM import_row WHERE import_id IN (SELECT id FROM import_batch
       WHERE created_at < :now - INTERVAL ${undoDays} DAY AND state <> 'applying') LIMIT ${sweptAtOnce}`,
  ],
} satisfies Feature;
