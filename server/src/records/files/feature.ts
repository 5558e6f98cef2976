import type { Feature } from '../../platform/feature';
import { sweptAtOnce } from '../../platform/jobs/sweep';
import { filesRoutes } from './files.routes';

export const filesFeature = {
  name: 'files',
  routes: filesRoutes,
  // Uploads that never came to their end.
  swept: [
    `DELETE FROM stored_file WHERE NOT is_complete AND created_at < :now - INTERVAL 1 DAY LIMIT ${sweptAtOnce}`,
  ],
} satisfies Feature;
