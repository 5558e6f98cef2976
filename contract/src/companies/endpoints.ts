export const companiesEndpoints = {
  changeCompany: 'PUT /api/companies/:id',
  listCompanies: 'GET /api/companies',
  countCompanies: 'GET /api/companies/count',
  exportCompanies: 'GET /api/companies/export',
  getCompany: 'GET /api/companies/:id',
} as const;
