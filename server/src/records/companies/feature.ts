import type { Feature } from '../../platform/feature';
import { companiesRoutes } from './companies.routes';

export const companiesFeature = { name: 'companies', routes: companiesRoutes } satisfies Feature;
