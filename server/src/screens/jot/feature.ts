import type { Feature } from '../../platform/feature';
import { jotRoutes } from './jot.routes';

export const jotFeature = { name: 'jot', routes: jotRoutes } satisfies Feature;
