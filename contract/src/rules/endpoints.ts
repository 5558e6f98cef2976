export const rulesEndpoints = {
  listRules: 'GET /api/rules',
  addRule: 'POST /api/rules',
  tryRule: 'POST /api/rules/try',
  changeRule: 'PUT /api/rules/:id',
  removeRule: 'DELETE /api/rules/:id',
  listFirings: 'GET /api/rules/:id/firings',
  undoFiring: 'POST /api/rules/:id/firings/:firingId/undo',
} as const;
