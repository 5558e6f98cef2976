import type { Feature } from '../../platform/feature';
import { apiKeysRoutes } from './api-keys.routes';

export const apiKeysFeature = { name: 'api-keys', routes: apiKeysRoutes } satisfies Feature;
