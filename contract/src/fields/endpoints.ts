export const fieldsEndpoints = {
  listCustomFields: 'GET /api/custom-fields',
  createCustomField: 'POST /api/custom-fields',
  changeCustomField: 'PUT /api/custom-fields/:id',
} as const;
