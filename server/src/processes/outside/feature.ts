import type { Feature } from '../../platform/feature';
import { outsideRoutes } from './outside.routes';

export const outsideFeature = {
  name: 'outside',
  outside: { path: '/', router: outsideRoutes },
} satisfies Feature;
