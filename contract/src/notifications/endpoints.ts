export const notificationsEndpoints = {
  listNotifications: 'GET /api/notifications',
  readNotifications: 'POST /api/notifications/read',
} as const;
