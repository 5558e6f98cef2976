import type { Feature } from '../../platform/feature';
import { takingInRoutes } from './taking-in.routes';

export const takingInFeature = { name: 'taking-in', routes: takingInRoutes } satisfies Feature;
