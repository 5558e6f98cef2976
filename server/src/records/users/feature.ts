import type { Feature } from '../../platform/feature';
import { sweptAtOnce } from '../../platform/jobs/sweep';
import { sessionRoutes } from './session.routes';

export const usersFeature = {
  name: 'users',
  routes: sessionRoutes,
  swept: [`DELETE FROM session WHERE expires_at < :now LIMIT ${sweptAtOnce}`],
} satisfies Feature;
