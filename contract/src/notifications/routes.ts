import { ok, type RouteSpec } from '../base/route';
import { notificationList } from './schemas';

export const notificationsRoutes = {
  listNotifications: { access: 'rep', summary: 'What I was told', reply: notificationList },
  readNotifications: { access: 'rep', summary: 'I have seen them', reply: ok },
} as const satisfies Record<string, RouteSpec>;
