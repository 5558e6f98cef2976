import type { Feature } from '../../platform/feature';
import { homeRoutes } from './home.routes';

export const homeFeature = { name: 'home', routes: homeRoutes } satisfies Feature;
