import type { Feature } from '../../platform/feature';
import { agreementsRoutes } from './agreements.routes';

export const agreementsFeature = { name: 'agreements', routes: agreementsRoutes } satisfies Feature;
