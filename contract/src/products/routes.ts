import * as z from 'zod';
import { productId } from '../base/ids';
import { byId, type RouteSpec } from '../base/route';
import { changeProduct, createProduct, product } from './schemas';

export const productsRoutes = {
  listProducts: { access: 'rep', summary: 'What is sold', reply: z.object({ products: z.array(product) }) },
  createProduct: { access: 'admin', summary: 'Add a product', body: createProduct, reply: product },
  changeProduct: {
    access: 'admin',
    summary: 'Change a product',
    params: byId.extend({ id: productId }),
    body: changeProduct,
    reply: product,
  },
} as const satisfies Record<string, RouteSpec>;
