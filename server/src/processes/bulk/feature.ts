import type { Feature } from '../../platform/feature';
import { bulkRoutes } from './bulk.routes';
import { bulkJob } from './carry-out-part';
import { bulkKind, bulkUndoKind } from './stored-bulk';
import { bulkUndoJob } from './undo-bulk';

export const bulkFeature = {
  name: 'bulk',
  routes: bulkRoutes,
  jobs: () => ({ [bulkKind]: bulkJob, [bulkUndoKind]: bulkUndoJob }),
} satisfies Feature;
