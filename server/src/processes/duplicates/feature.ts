import type { Feature } from '../../platform/feature';
import { duplicatesRoutes } from './duplicates.routes';

export const duplicatesFeature = { name: 'duplicates', routes: duplicatesRoutes } satisfies Feature;
