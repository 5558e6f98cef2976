import type { Feature } from '../../platform/feature';
import { forecastTasks } from './forecast';
import { homeRoutes } from './home.routes';

export const homeFeature = { name: 'home', routes: homeRoutes, quick: forecastTasks } satisfies Feature;
