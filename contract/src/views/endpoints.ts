export const viewsEndpoints = {
  listViews: 'GET /api/views',
  saveView: 'POST /api/views',
  changeView: 'PUT /api/views/:id',
  removeView: 'DELETE /api/views/:id',
  pinView: 'POST /api/views/:id/landing',
  favourView: 'POST /api/views/:id/favourite',
} as const;
