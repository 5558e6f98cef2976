export const telephoneEndpoints = {
  dial: 'POST /api/calls',
  getCall: 'GET /api/calls/:id',
  hangUp: 'POST /api/calls/:id/hang-up',
  sendText: 'POST /api/texts',
  listTexts: 'GET /api/texts',
} as const;
