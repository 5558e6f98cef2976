import type { Feature } from '../../platform/feature';
import { quotasRoutes } from './quotas.routes';

export const quotasFeature = { name: 'quotas', routes: quotasRoutes } satisfies Feature;
