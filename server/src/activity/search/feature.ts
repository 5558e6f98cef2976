import type { Feature } from '../../platform/feature';
import { searchRoutes } from './search.routes';

export const searchFeature = { name: 'search', routes: searchRoutes } satisfies Feature;
