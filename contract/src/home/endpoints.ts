export const homeEndpoints = {
  readHome: 'GET /api/home',
  arrangeHome: 'PUT /api/home',
  resetHome: 'DELETE /api/home',
  monthForecast: 'GET /api/home/forecast',
  arrangeRoleHome: 'PUT /api/home/roles/:role',
} as const;
