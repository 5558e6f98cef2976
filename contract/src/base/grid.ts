import * as z from 'zod';

export * from './grid-fields';

const fieldKey = z.string().regex(/^([a-z-]{2,30}|custom:[0-9a-f-]{36})$/, 'is not a field of the list');

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
export const contactFilter = z
  .string()
  .max(4000)
  .transform((text, context) => {
    try {
      return JSON.parse(text) as unknown;
    } catch {
      context.addIssue({ code: 'custom', message: 'is not a filter' });
      return z.NEVER;
    }
  })
  .pipe(filterGroup);

export interface SortPart {
  readonly field: string;
  readonly order: 'up' | 'down';
}

/** `-last-touch,name` as parts; at most four. */
export const contactSortKey = z
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
    'is not a field of the list',
  );

export const contactGrouping = fieldKey;

// The same shapes serve the list of deals, over its own fields.
export const dealFilter = contactFilter;

export const dealSortKey = contactSortKey;

export const dealGrouping = fieldKey;
