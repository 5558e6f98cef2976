import * as z from 'zod';
import { productId } from '../base/ids';
import { amountMinor, line, resolved, version } from '../base/values';

/** Something that is sold; a retired one stays in the deals that have it. */
export const product = z.object({
  id: productId,
  name: z.string(),
  priceMinor: z.int(),
  billing: z.enum(['once', 'yearly']),
  isRetired: z.boolean(),
  version: z.int(),
});

export type Product = z.infer<typeof product>;

const productFields = { name: line(160), priceMinor: amountMinor, billing: z.enum(['once', 'yearly']) };

export const createProduct = z.object(productFields);

export const changeProduct = z.object({ version, resolved, ...productFields, isRetired: z.boolean() });
