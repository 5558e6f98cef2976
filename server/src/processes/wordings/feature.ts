import type { Feature } from '../../platform/feature';
import { wordingsRoutes } from './wordings.routes';

export const wordingsFeature = { name: 'wordings', routes: wordingsRoutes } satisfies Feature;
