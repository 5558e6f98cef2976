import type { Feature } from '../../platform/feature';
import { fieldsRoutes } from './fields.routes';

export const fieldsFeature = { name: 'fields', routes: fieldsRoutes } satisfies Feature;
