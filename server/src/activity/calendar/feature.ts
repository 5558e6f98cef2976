import type { Feature } from '../../platform/feature';
import { calendarRoutes } from './calendar.routes';

export const calendarFeature = { name: 'calendar', routes: calendarRoutes } satisfies Feature;
