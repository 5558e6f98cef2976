import * as z from 'zod';

/** What is counted of a record, by the key of its field; only lists have it. */
export const countedValues = z.record(z.string(), z.union([z.number(), z.string()]).nullable());
