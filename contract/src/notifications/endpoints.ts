export const notificationsEndpoints = {
  listNotifications: 'GET /api/notifications',
  toldSettings: 'GET /api/notifications/settings',
  changeToldSettings: 'PUT /api/notifications/settings',
  readNotifications: 'POST /api/notifications/read',
} as const;
