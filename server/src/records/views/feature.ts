import type { Feature } from '../../platform/feature';
import { viewsRoutes } from './views.routes';

export const viewsFeature = { name: 'views', routes: viewsRoutes } satisfies Feature;
