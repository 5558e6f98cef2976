import type { Feature } from '../../platform/feature';
import { loggingRoutes } from './logging.routes';

export const loggingFeature = { name: 'logging', routes: loggingRoutes } satisfies Feature;
