import { changeProduct as changeBody } from '@kettle/contract';
import { nameKey } from '@kettle/core/duplicates';
import { bytesOf } from '../../../platform/ids';
import type { PersonWork } from '../../../platform/work/work';
import { addProduct, changeProduct, readProducts } from '../../../records/products/index';
import { isTrue, numberOf, textOf, type Found, type RecordDef, type Values } from './record-kind';

const billingOf = (values: Values) => (textOf(values, 'billing') === 'yearly' ? 'yearly' : 'once');

/** What is sold, told apart by name. */
export const products: RecordDef = {
  shown: ['name', 'price', 'billing'],
  sameAs: (values) => nameKey(textOf(values, 'name')),
  find: async ({ db }, drafts) => {
    const known = new Map((await readProducts(db)).map((product) => [nameKey(product.name), product]));
    return new Map(
      drafts.flatMap(({ line, values }): [number, Found][] => {
        const product = known.get(nameKey(textOf(values, 'name')));
        if (product === undefined) return [];
        const { id, name, priceMinor, billing, isRetired } = product;
        return [
          [
            line,
            {
              record: {
                ...{ id: bytesOf(id), name, ownerId: null, ownerName: null },
                now: { price: priceMinor, billing, isRetired },
              },
            },
          ],
        ];
      }),
    );
  },
  make: async (w, values) => {
    const id = await addProduct(w, {
      ...{ name: textOf(values, 'name'), priceMinor: numberOf(values, 'price') ?? 0 },
      billing: billingOf(values),
    });
    if (isTrue(values, 'isRetired')) await change(w, id, { isRetired: true });
  },
  change,
};

async function change(w: PersonWork, id: string, values: Values): Promise<void> {
  const product = (await readProducts(w)).find((each) => each.id === id)!;
  await changeProduct(
    w,
    id,
    changeBody.parse({
      ...product,
      ...(numberOf(values, 'price') === null ? {} : { priceMinor: numberOf(values, 'price') }),
      ...(textOf(values, 'billing') === '' ? {} : { billing: billingOf(values) }),
      ...('isRetired' in values ? { isRetired: isTrue(values, 'isRetired') } : {}),
    }),
  );
}
