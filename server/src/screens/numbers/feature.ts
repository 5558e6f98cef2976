import type { Feature } from '../../platform/feature';
import { numbersRoutes } from './numbers.routes';

export const numbersFeature = { name: 'numbers', routes: numbersRoutes } satisfies Feature;
