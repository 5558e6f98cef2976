export const fieldsEndpoints = {
  listCustomFields: 'GET /api/custom-fields',
  wordsInUse: 'GET /api/words-in-use',
  createCustomField: 'POST /api/custom-fields',
  changeCustomField: 'PUT /api/custom-fields/:id',
} as const;
