export const agreementsEndpoints = {
  listAgreements: 'GET /api/agreements',
  countAgreements: 'GET /api/agreements/count',
  exportAgreements: 'GET /api/agreements/export',
  createAgreement: 'POST /api/agreements',
  changeAgreement: 'PUT /api/agreements/:id',
} as const;
