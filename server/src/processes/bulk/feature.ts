import type { Feature } from '../../platform/feature';
import { bulkRoutes } from './bulk.routes';
import { bulkJob, bulkKind, bulkUndoJob, bulkUndoKind } from './bulk';

export const bulkFeature = {
  name: 'bulk',
  routes: bulkRoutes,
  jobs: () => ({ [bulkKind]: bulkJob, [bulkUndoKind]: bulkUndoJob }),
} satisfies Feature;
