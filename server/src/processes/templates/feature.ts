import type { Feature } from '../../platform/feature';
import { templatesRoutes } from './templates.routes';

export const templatesFeature = { name: 'templates', routes: templatesRoutes } satisfies Feature;
