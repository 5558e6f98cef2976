import { ok, type RouteSpec } from '../base/route';
import { notificationList, toldSettings } from './schemas';

export const notificationsRoutes = {
  listNotifications: { access: 'rep', summary: 'What I was told', reply: notificationList },
  readNotifications: { access: 'rep', summary: 'I have seen them', reply: ok },
  toldSettings: { access: 'rep', summary: 'How I am told of what', reply: toldSettings },
  changeToldSettings: {
    access: 'rep',
    summary: 'Change how I am told of what',
    body: toldSettings,
    reply: toldSettings,
  },
} as const satisfies Record<string, RouteSpec>;
