import type { Feature } from '../../platform/feature';
import { notificationsRoutes } from './notifications.routes';

export const notificationsFeature = { name: 'notifications', routes: notificationsRoutes } satisfies Feature;
