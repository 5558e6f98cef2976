import type { Feature } from '../../platform/feature';
import { removalRoutes } from './removal.routes';

export const removalFeature = { name: 'removal', routes: removalRoutes } satisfies Feature;
