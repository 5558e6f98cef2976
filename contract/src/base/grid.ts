import * as z from 'zod';
import { measures } from './counted';
import { listFiles } from './list-files';

export * from './grid-fields';

const fieldKey = z
  .string()
  .regex(/^([a-z-]{2,30}|custom:[0-9a-f-]{36})$/, $localize`is not a field of the list`);

export const filterRule = z.object({
  field: fieldKey,
  ask: z.enum([
    'has',
    'is',
    'is-not',
    'empty',
    'filled',
    'before',
    'after',
    'within-past',
    'not-within-past',
    'within-next',
    'more',
    'less',
    'yes',
    'no',
  ]),
  value: z.union([z.string().max(200), z.number()]).optional(),
  /** What counts as contact, for the question whether there was any; left out, everything but notes. */
  of: z.array(z.enum(measures)).min(1).max(measures.length).readonly().optional(),
});

export type FilterRule = z.infer<typeof filterRule>;

/** Rules joined by and (`all`) or or (`any`), three deep at most. */
export interface FilterGroup {
  readonly join: 'all' | 'any';
  readonly rules: readonly (FilterRule | FilterGroup)[];
}

const groupOf = <Inner extends z.ZodType>(inner: Inner) =>
  z.object({ join: z.enum(['all', 'any']), rules: z.array(z.union([filterRule, inner])).max(30) });

export const filterGroup = groupOf(groupOf(groupOf(filterRule))) as unknown as z.ZodType<FilterGroup>;

/** A filter as the address carries it: JSON text. */
export const gridFilter = z
  .string()
  .max(4000)
  .transform((text, context) => {
    try {
      return JSON.parse(text) as unknown;
    } catch {
      context.addIssue({ code: 'custom', message: $localize`is not a filter` });
      return z.NEVER;
    }
  })
  .pipe(filterGroup);

export interface SortPart {
  readonly field: string;
  readonly order: 'up' | 'down';
}

/** `-last-touch,name` as parts; at most four. */
export const sortKey = z
  .string()
  .max(200)
  .transform((text) =>
    text
      .split(',')
      .filter(Boolean)
      .slice(0, 4)
      .map((part): SortPart =>
        part.startsWith('-') ? { field: part.slice(1), order: 'down' } : { field: part, order: 'up' },
      ),
  )
  .refine(
    (parts) => parts.every((part) => fieldKey.safeParse(part.field).success),
    $localize`is not a field of the list`,
  );

export const grouping = fieldKey;

/** Which page of a list, and in which order. */
export const gridPage = {
  /** Fields to sort by, first first; a minus sign turns one round: `-last-touch,name`. */
  sort: sortKey.optional(),
  group: grouping.optional(),
  /** How many rows of the list lie before the page. */
  after: z.coerce.number().int().min(0).max(1_000_000).default(0),
  /** The row right before the page, where it is known: the page is found by it, as fast far down as at the top. */
  follows: z.uuid().optional(),
  /** Whether what is counted of each record comes with its row: where no column shows it, it need not be looked up. */
  counted: z.enum(['yes', 'no']).default('yes'),
};

/** A view as a file: its columns in their order, of all it finds or of the picked ones. */
export const gridExport = <Id extends z.ZodType<string, string>>(id: Id) => ({
  as: z.enum(listFiles).default('csv'),
  sort: sortKey.optional(),
  columns: z.string().max(2000).default(''),
  /** Picked ones instead of the view, with commas between. */
  ids: z
    .string()
    .transform((text) => text.split(',').filter(Boolean))
    .pipe(z.array(id).max(200))
    .optional(),
});

/** How many rows a view finds, what they add up to, and the same of each group in the order of the list. */
export const gridCount = z.object({
  found: z.int(),
  /** All rows there are for this reader, whatever the view. */
  total: z.int(),
  /** By field; money in the organisation's own currency. Of deals `unvalued` says how many are in no sum, for want of a rate. */
  sums: z.record(z.string(), z.int()),
  groups: z.array(
    z.object({
      key: z.string().nullable(),
      name: z.string(),
      count: z.int(),
      sums: z.record(z.string(), z.int()),
    }),
  ),
});

export type GridCount = z.infer<typeof gridCount>;
