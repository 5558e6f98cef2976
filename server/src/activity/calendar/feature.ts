import type { Feature } from '../../platform/feature';
import { spineRoutes } from './calendar.routes';

export const calendarFeature = { name: 'calendar', routes: spineRoutes } satisfies Feature;
