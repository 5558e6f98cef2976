import type { Feature } from '../../platform/feature';
import { productsRoutes } from './products.routes';

export const productsFeature = { name: 'products', routes: productsRoutes } satisfies Feature;
