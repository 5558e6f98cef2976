import type { Product, ProductId } from '@kettle/contract';
import { isDuplicateKey, type Queryable } from '../../platform/database/database';
import { wholeNumber } from '../../platform/database/values';
import type { Handlers } from '../../platform/http/bind-routes';
import { Problem } from '../../platform/http/problem';
import { bytesOf, idOf, newId, type IdBytes } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { noteChange } from '../../platform/change-feed/feed';

interface ProductColumns {
  id: IdBytes;
  name: string;
  price_minor: string | number;
  billing: Product['billing'];
  is_retired: number;
  version: number;
}

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

/** What is sold, for the product lines of deals; a line keeps the name and price it was made with. */
export function productsRoutes(
  services: Services,
): Pick<Handlers, 'listProducts' | 'createProduct' | 'changeProduct'> {
  const { database, feed } = services;
  const write = async (id: string, name: string, userId: string, work: (tx: Queryable) => Promise<void>) => {
    try {
      await database.transaction(async (tx) => {
        await work(tx);
        await noteChange(tx, 'setting', id, userId);
      });
    } catch (error) {
      if (isDuplicateKey(error)) throw new Problem('already-exists', { what: name });
      throw error;
    }
    feed.poke();
    return readProduct(database, id);
  };
  return {
    listProducts: async () => ({ products: await readProducts(database) }),
    createProduct: ({ body, who }) => {
      const id = newId<ProductId>();
      return write(id, body.name, who.id, async (tx) => {
        await tx.change(
          'INSERT INTO product (id, name, price_minor, billing) VALUES (:id, :name, :priceMinor, :billing)',
          { ...body, id: bytesOf(id) },
        );
      });
    },
    changeProduct: async ({ params, body, who }) => {
      const before = await readProduct(database, params.id);
      return write(params.id, body.name, who.id, async (tx) => {
        const changed = await tx.change(
          `UPDATE product SET name = :name, price_minor = :priceMinor, billing = :billing, is_retired = :isRetired,
                  version = version + 1
            WHERE id = :id AND version = :version`,
          { ...body, id: bytesOf(params.id) },
        );
        if (changed === 0) throw new Problem('stale', {}, { current: before });
      });
    },
  };
}
