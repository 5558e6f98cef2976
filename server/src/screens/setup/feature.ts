import type { Feature } from '../../platform/feature';
import { setupRoutes } from './setup.routes';

export const setupFeature = { name: 'setup', routes: setupRoutes } satisfies Feature;
