import type { Feature } from '../../platform/feature';
import { sweptAtOnce } from '../../platform/jobs/sweep';
import { changesRoutes } from './changes.routes';
import { undoDays } from './undo-set';

const isOver = `at < :now - INTERVAL ${undoDays} DAY`;

export const changesFeature = {
  name: 'changes',
  routes: changesRoutes,
  // The rows of a set go before the set.
  swept: [
    `DELETE FROM change_row WHERE set_id IN (SELECT id FROM change_set WHERE ${isOver}) LIMIT ${sweptAtOnce}`,
    `DELETE FROM change_set WHERE ${isOver} AND NOT EXISTS (SELECT 1 FROM change_row r WHERE r.set_id = change_set.id) LIMIT ${sweptAtOnce}`,
  ],
} satisfies Feature;
