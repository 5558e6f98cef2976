import type { Feature } from '../../platform/feature';
import { fieldDaysRoutes } from './field-days.routes';
import { quickFieldDayTasks } from './order-day';

export const fieldDaysFeature = {
  name: 'field-days',
  routes: fieldDaysRoutes,
  quick: quickFieldDayTasks,
} satisfies Feature;
