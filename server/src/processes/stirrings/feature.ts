import type { Feature } from '../../platform/feature';
import { stirringsRoutes } from './stirrings.routes';

export const stirringsFeature = { name: 'stirrings', routes: stirringsRoutes } satisfies Feature;
