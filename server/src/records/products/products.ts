import type {
  changeProduct as changed,
  createProduct as created,
  Product,
  ProductId,
} from '@kettle/contract';
import type * as z from 'zod';
import { isDuplicateKey, type Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { wholeNumber } from '../../platform/database/values';
import { bytesOf, idOf, newId } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import { mergeChange } from '../../platform/work/merge-change';
import type { PersonWork } from '../../platform/work/work';

type ProductColumns = Row<'product', 'id' | 'name' | 'price_minor' | 'billing' | 'is_retired' | 'version'>;

export async function readProducts(db: Queryable): Promise<Product[]> {
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

/** @throws Problem `not-found` */
export async function readProduct(db: Queryable, id: string): Promise<Product> {
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

/** @throws Problem `already-exists` for a name that another has */
export async function addProduct(
  w: PersonWork,
  { name, priceMinor, billing }: z.output<typeof created>,
): Promise<ProductId> {
  const id = newId<ProductId>();
  await orTaken(name, () =>
    w.change(
      'INSERT INTO product (id, name, price_minor, billing) VALUES (:id, :name, :priceMinor, :billing)',
      {
        ...{ id: bytesOf(id), name, priceMinor, billing },
      },
    ),
  );
  w.say($localize`Product “${name}:name:” created`);
  return id;
}

/** @throws Problem `not-found`, `stale`, `already-exists` */
export async function changeProduct(
  w: PersonWork,
  id: string,
  asked: z.output<typeof changed>,
): Promise<void> {
  await w.rows('SELECT 1 FROM product WHERE id = :id FOR UPDATE', { id: bytesOf(id) });
  const record = await readProduct(w, id);
  const merged = await mergeChange(w, { table: 'product', id, fields, asked, record });
  const { name, priceMinor, billing, isRetired } = merged;
  await orTaken(name, () =>
    w.change(
      `UPDATE product SET name = :name, price_minor = :priceMinor, billing = :billing, is_retired = :isRetired, version = version + 1
        WHERE id = :id`,
      { id: bytesOf(id), name, priceMinor, billing, isRetired },
    ),
  );
  w.say($localize`Product “${name}:name:” changed`);
}

async function orTaken(name: string, write: () => Promise<unknown>): Promise<void> {
  try {
    await write();
  } catch (error) {
    if (isDuplicateKey(error)) throw new Problem('already-exists', { what: name });
    throw error;
  }
}
