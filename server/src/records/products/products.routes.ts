import type { SignedIn } from '../users/index';
import type { Product, ProductId } from '@kettle/contract';
import { isDuplicateKey, type Queryable } from '../../platform/database/database';
import { wholeNumber } from '../../platform/database/values';
import type { Handlers } from '../../platform/http/bind-routes';
import { Problem } from '../../platform/problem';
import { bytesOf, idOf, newId } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { mergeChange } from '../../platform/work/merge-change';
import { work, type PersonWork } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';

type ProductColumns = Row<'product', 'id' | 'name' | 'price_minor' | 'billing' | 'is_retired' | 'version'>;

async function readProducts(db: Queryable): Promise<Product[]> {
  const rows = await db.rows<ProductColumns>(
    'SELECT id, name, price_minor, billing, is_retired, version FROM product ORDER BY is_retired, name, id LIMIT 2000',
  );
  return rows.map((row) => ({
    id: idOf<ProductId>(row.id),
    name: row.name,
    priceMinor: wholeNumber(row.price_minor),
    billing: row.billing,
    isRetired: row.is_retired === 1,
    version: row.version,
  }));
}

async function readProduct(db: Queryable, id: string): Promise<Product> {
  const found = (await readProducts(db)).find((product) => product.id === id);
  if (!found) throw new Problem('not-found');
  return found;
}

const fields = {
  name: { column: 'name' },
  priceMinor: { column: 'price_minor' },
  billing: { column: 'billing' },
  isRetired: { column: 'is_retired' },
};

/** What is sold, for the product lines of deals; a line keeps the name and price it was made with. */
export function productsRoutes(
  services: Services,
): Pick<Handlers, 'listProducts' | 'createProduct' | 'changeProduct'> {
  const { database } = services;
  const write = async (
    who: SignedIn,
    name: string,
    act: (w: PersonWork) => Promise<ProductId>,
  ): Promise<Product> => {
    try {
      return await readProduct(database, await work(services, who, act));
    } catch (error) {
      if (isDuplicateKey(error)) throw new Problem('already-exists', { what: name });
      throw error;
    }
  };
  return {
    listProducts: async () => ({ products: await readProducts(database) }),
    createProduct: ({ body, who }) =>
      write(who, body.name, async (w) => {
        const id = newId<ProductId>();
        await w.change(
          'INSERT INTO product (id, name, price_minor, billing) VALUES (:id, :name, :priceMinor, :billing)',
          { ...body, id: bytesOf(id) },
        );
        w.say($localize`Product “${body.name}:name:” created`);
        return id;
      }),
    changeProduct: ({ params, body: asked, who }) =>
      write(who, asked.name, async (w) => {
        await w.rows('SELECT 1 FROM product WHERE id = :id FOR UPDATE', { id: bytesOf(params.id) });
        const record = await readProduct(w, params.id);
        const change = { table: 'product', id: params.id, fields, asked, record };
        const { name, priceMinor, billing, isRetired } = await mergeChange(w, change);
        await w.change(
          `UPDATE product SET name = :name, price_minor = :priceMinor, billing = :billing, is_retired = :isRetired,
                  version = version + 1
            WHERE id = :id`,
          { id: bytesOf(params.id), name, priceMinor, billing, isRetired },
        );
        w.say($localize`Product “${name}:name:” changed`);
        return params.id;
      }),
  };
}
