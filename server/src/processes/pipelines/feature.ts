import type { Feature } from '../../platform/feature';
import { pipelinesRoutes } from './pipelines.routes';

export const pipelinesFeature = { name: 'pipelines', routes: pipelinesRoutes } satisfies Feature;
