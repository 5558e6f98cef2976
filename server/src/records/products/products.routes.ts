import type { Handlers } from '../../platform/http/bind-routes';
import type { Services } from '../../platform/services';
import { work } from '../../platform/work/work';
import { addProduct, changeProduct, readProduct, readProducts } from './products';

/** What is sold, for the product lines of deals; a line keeps the name and price it was made with. */
export function productsRoutes(
  services: Services,
): Pick<Handlers, 'listProducts' | 'createProduct' | 'changeProduct'> {
  const { database } = services;
  return {
    listProducts: async () => ({ products: await readProducts(database) }),
    createProduct: async ({ body, who }) =>
      readProduct(database, await work(services, who, (w) => addProduct(w, body))),
    changeProduct: async ({ params, body, who }) => {
      await work(services, who, (w) => changeProduct(w, params.id, body));
      return readProduct(database, params.id);
    },
  };
}
