export const productsEndpoints = {
  listProducts: 'GET /api/products',
  createProduct: 'POST /api/products',
  changeProduct: 'PUT /api/products/:id',
} as const;
