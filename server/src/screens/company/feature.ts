import type { Feature } from '../../platform/feature';
import { companyRoutes } from './company.routes';

export const companyFeature = { name: 'company', routes: companyRoutes } satisfies Feature;
