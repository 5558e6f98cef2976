import * as z from 'zod';
import { productId } from './ids';
import { amountMinor, line, mostMinor } from './values';

/** A product line: money in minor units, quantity to two places, discount in per cent. */
export const productLine = z.object({
  productId: productId.nullable().default(null),
  name: line(160),
  quantity: z
    .number()
    .min(0.01, $localize`must be more than nothing`)
    .max(1_000_000)
    .multipleOf(0.01),
  priceMinor: amountMinor,
  discountPercent: z.number().min(0).max(100).multipleOf(0.01).default(0),
  billing: z.enum(['once', 'yearly']),
});

/** All lines of one deal or agreement: what they come to is an amount. */
export const productLines = z
  .array(productLine)
  .max(100)
  .refine(
    (all) =>
      all.reduce(
        (sum, { quantity, priceMinor, discountPercent }) =>
          sum + quantity * priceMinor * (1 - discountPercent / 100),
        0,
      ) <= mostMinor,
    $localize`come to more than an amount can be; make several of them`,
  );
