export const hooksEndpoints = {
  listHooks: 'GET /api/hooks',
  addHook: 'POST /api/hooks',
  changeHook: 'PUT /api/hooks/:id',
  removeHook: 'DELETE /api/hooks/:id',
  renewHookSecret: 'POST /api/hooks/:id/secret',
  tryHook: 'POST /api/hooks/:id/try',
  listHookCalls: 'GET /api/hooks/:id/calls',
  sendHookCallAgain: 'POST /api/hooks/:id/calls/:eventId/again',
} as const;
