import type { Feature } from '../../platform/feature';
import { teamLogRoutes } from './team-log.routes';

export const teamLogFeature = { name: 'team-log', routes: teamLogRoutes } satisfies Feature;
