export const companiesEndpoints = {
  changeCompany: 'PUT /api/companies/:id',
  listCompanies: 'GET /api/companies',
  getCompany: 'GET /api/companies/:id',
} as const;
