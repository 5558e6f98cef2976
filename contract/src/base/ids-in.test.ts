import * as z from 'zod';
import { contactId, dealId } from './ids';
import { idFieldsOf, idsIn } from './ids-in';

const [a, b, c] = ['1', '2', '3'].map((n) => `0193a000-0000-7000-8000-00000000000${n}`) as [
  string,
  string,
  string,
];
const schema = z.object({
  contactId,
  dealId: dealId.nullable().default(null),
  people: z.array(z.object({ id: contactId, role: z.string() })).optional(),
  startOn: z.record(contactId, z.string()).default({}),
  of: z.union([z.object({ ids: z.array(contactId) }), z.object({ q: z.string() })]).optional(),
  kind: z
    .discriminatedUnion('kind', [
      z.object({ kind: z.literal('contact'), id: contactId }),
      z.object({ kind: z.literal('deal'), id: dealId }),
    ])
    .optional(),
});

test('every field that holds an id is known, wherever it stands', () => {
  expect(idFieldsOf(schema).map(({ path, kind }) => `${path} ${kind}`)).toEqual([
    'contactId contact',
    'dealId deal',
    'people[].id contact',
    'startOn{} contact',
    'of.ids[] contact',
    'kind.id contact',
    'kind.id deal',
  ]);
});

test('every id of a value is found, with its kind; what is left out is none', () => {
  const value = schema.parse({
    contactId: a.toUpperCase(),
    people: [{ id: b, role: 'x' }],
    startOn: { [c]: '2026-11-30' },
    of: { ids: [a, b] },
    kind: { kind: 'deal', id: c },
  });
  expect(idsIn(schema, value)).toEqual([
    { path: 'contactId', kind: 'contact', id: a },
    { path: 'people[].id', kind: 'contact', id: b },
    { path: 'startOn{}', kind: 'contact', id: c },
    { path: 'of.ids[]', kind: 'contact', id: a },
    { path: 'of.ids[]', kind: 'contact', id: b },
    { path: 'kind.id', kind: 'deal', id: c },
  ]);
  expect(idsIn(schema, schema.parse({ contactId: a }))).toHaveLength(1);
});
