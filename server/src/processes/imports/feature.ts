import type { Feature } from '../../platform/feature';
import { importsRoutes } from './imports.routes';
import { chunkKind, importChunk } from './apply-chunk';
import { importUndoJob, importUndoKind } from './undo-import';

export const importsFeature = {
  name: 'imports',
  routes: importsRoutes,
  jobs: () => ({ [chunkKind]: importChunk, [importUndoKind]: importUndoJob }),
} satisfies Feature;
