import type { CustomField, Deal, DealRow, FilterGroup, FilterRule } from '@kettle/contract';
import fc from 'fast-check';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal, stagesOf } from '../../../testing/people';

/** Questions about deals as the database answers them, against the same questions asked of the rows one by one. */

let installation: Installation;
let rep: Caller;
let water: CustomField;
let depth: CustomField;
let deals: Deal[];
const today = '2026-11-24';

beforeAll(async () => {
  installation = await install();
  rep = await installation.as('rep');
  const admin = await installation.as('admin');
  const field = (body: object) => admin.ok('createCustomField', { body: { subject: 'deal', ...body } });
  water = await field({ name: 'Water source', type: 'choice', choices: ['mains', 'borehole'] });
  depth = await field({ name: 'Depth', type: 'number' });
  const contact = await aContact(rep, { companyName: 'Skell & Söhne' });
  const stages = await stagesOf(rep);
  const parts = [
    { name: 'Alpha', amountMinor: 100_000, expectedCloseOn: '2026-11-24', priority: 'high', source: 'fair' },
    { name: 'alpha two', amountMinor: 250_050, expectedCloseOn: '2026-11-30', source: 'Fair' },
    { name: 'Beta 100%', amountMinor: 0, expectedCloseOn: null, priority: 'low', source: '' },
    {
      name: 'Gamma_1',
      amountMinor: 250_050,
      expectedCloseOn: '2026-11-10',
      winProbability: 0.4,
      source: null,
    },
    { name: 'Delta', amountMinor: 99_999, expectedCloseOn: '2027-03-01', decisionOn: '2026-12-24' },
    {
      name: 'Epsilon',
      amountMinor: 1,
      expectedCloseOn: '2026-12-01',
      type: 'renewal',
      decisionOn: '2026-11-20',
    },
  ];
  const own = [
    { [water.id]: 'mains', [depth.id]: 12 },
    { [water.id]: 'borehole', [depth.id]: 40.5 },
    { [water.id]: 'mains' },
    { [depth.id]: 0 },
    {},
    { [water.id]: 'borehole' },
  ];
  deals = [];
  for (const [index, part] of parts.entries())
    deals.push(
      await aDeal(rep, contact.id, {
        ...part,
        stageId: stages[index % 3]!.id,
        custom: own[index],
        type: part.type ?? 'new',
      }),
    );
});
afterAll(() => installation.close());

type Value = string | number | null;
const valueOf = (deal: Deal, field: string): Value => {
  if (field.startsWith('custom:')) return (deal.custom[field.slice(7)] ?? null) as Value;
  const values: Record<string, Value> = {
    name: deal.name,
    value: deal.amountMinor / 100,
    close: deal.expectedCloseOn,
    decision: deal.decisionOn,
    priority: deal.priority,
    type: deal.type,
    source: deal.source,
    stage: deal.stageId,
    chance: deal.winProbability * 100,
  };
  return values[field]!;
};
const isEmpty = (value: Value) => value === null || value === '';
/** Texts are compared as the database does: case does not matter. */
const same = (a: Value, b: Value) => String(a).toLowerCase() === String(b).toLowerCase();
const dayAhead = (days: number) => new Date(Date.parse(today) + days * 86_400_000).toISOString().slice(0, 10);

function answers(deal: Deal, { field, ask, value }: FilterRule): boolean {
  const is = valueOf(deal, field);
  const wanted = value as Value;
  const days = Number(value);
  switch (ask) {
    case 'empty':
      return isEmpty(is);
    case 'filled':
      return !isEmpty(is);
    case 'is':
      return is !== null && same(is, wanted);
    case 'is-not':
      return is === null || !same(is, wanted);
    case 'has':
      return is !== null && String(is).toLowerCase().includes(String(wanted).toLowerCase());
    case 'more':
      return is !== null && Number(is) > Number(wanted);
    case 'less':
      return is !== null && Number(is) < Number(wanted);
    case 'before':
      return is !== null && is < wanted!;
    case 'after':
      return is !== null && is > wanted!;
    case 'within-past':
      return is !== null && is >= dayAhead(-days) && is <= today;
    case 'not-within-past':
      return is === null || is < dayAhead(-days);
    case 'within-next':
      return is !== null && is >= today && is <= dayAhead(days);
    default:
      throw new Error(`not asked here: ${ask}`);
  }
}

/** A group in which nothing is asked is as if it were not there. */
const isAsked = (group: FilterGroup): boolean =>
  group.rules.some((rule) => !('join' in rule) || isAsked(rule));

function meets(deal: Deal, group: FilterGroup): boolean {
  const parts = group.rules
    .filter((rule) => !('join' in rule) || isAsked(rule))
    .map((rule) => ('join' in rule ? meets(deal, rule) : answers(deal, rule)));
  return parts.length === 0 || (group.join === 'all' ? parts.every(Boolean) : parts.some(Boolean));
}

const rule = (field: string, ask: FilterRule['ask'], value?: FilterRule['value']): FilterRule =>
  value === undefined ? { field, ask } : { field, ask, value };
const emptiness = (field: string) => fc.constantFrom(rule(field, 'empty'), rule(field, 'filled'));
const text = (field: string, ...values: string[]) =>
  fc.oneof(
    emptiness(field),
    fc
      .tuple(fc.constantFrom('has', 'is', 'is-not'), fc.constantFrom(...values))
      .map(([ask, value]) => rule(field, ask as FilterRule['ask'], value)),
  );
const choice = (field: string, ...values: string[]) =>
  fc
    .tuple(fc.constantFrom('is', 'is-not'), fc.constantFrom(...values))
    .map(([ask, value]) => rule(field, ask as FilterRule['ask'], value));
const number = (field: string, ...values: number[]) =>
  fc.oneof(
    emptiness(field),
    fc
      .tuple(fc.constantFrom('is', 'more', 'less'), fc.constantFrom(...values))
      .map(([ask, value]) => rule(field, ask as FilterRule['ask'], value)),
  );
const date = (field: string) =>
  fc.oneof(
    emptiness(field),
    fc
      .tuple(fc.constantFrom('before', 'after'), fc.constantFrom('2026-11-24', '2026-11-30', '2026-12-24'))
      .map(([ask, value]) => rule(field, ask as FilterRule['ask'], value)),
    fc
      .tuple(
        fc.constantFrom('within-past', 'not-within-past', 'within-next'),
        fc.constantFrom(0, 4, 6, 14, 30),
      )
      .map(([ask, value]) => rule(field, ask as FilterRule['ask'], value)),
  );

/** Made when the fields are there, as their ids are asked for by name. */
const someRule = () =>
  fc.oneof(
    text('name', 'alpha', 'ALPHA TWO', '100%', '_', 'a'),
    text('source', 'fair', 'web'),
    number('value', 0, 999.99, 1000, 2500.5),
    number('chance', 10, 25, 40),
    date('close'),
    date('decision'),
    choice('priority', 'high', 'usual', 'low'),
    choice('type', 'new', 'renewal'),
    choice(`custom:${water.id}`, 'mains', 'borehole'),
    fc.oneof(emptiness(`custom:${water.id}`), emptiness(`custom:${depth.id}`)),
    number(`custom:${depth.id}`, 0, 12, 40),
    choice('stage', ...new Set(deals.map(({ stageId }) => stageId))),
  );
const join = fc.constantFrom<('all' | 'any')[]>('all', 'any');
const someFilter = () => {
  const inner = fc.record({ join, rules: fc.array(someRule(), { maxLength: 3 }) });
  return fc.record({ join, rules: fc.array(fc.oneof(someRule(), inner), { minLength: 1, maxLength: 4 }) });
};

const asked = (filter: FilterGroup, more: object = {}) => ({
  query: { owner: 'all', filter: JSON.stringify(filter), ...more },
});
const idsOf = (rows: readonly Pick<DealRow, 'id'>[]) => rows.map(({ id }) => id).sort();

test('any filter finds on the lanes, in the list and in the count what its questions say', async () => {
  await fc.assert(
    fc.asyncProperty(someFilter(), async (filter) => {
      const expected = deals.filter((deal) => meets(deal, filter));
      const [lanes, page, count] = [
        await rep.ok('listDeals', asked(filter)),
        await rep.ok('pageDeals', asked(filter)),
        await rep.ok('countDeals', asked(filter)),
      ];
      expect(idsOf(lanes.rows)).toEqual(idsOf(expected));
      expect(idsOf(page.rows)).toEqual(idsOf(expected));
      expect(count.found).toBe(expected.length);
      expect(count.sums).toEqual({
        value: expected.reduce((sum, deal) => sum + deal.amountMinor, 0),
        unvalued: 0,
        weighted: expected.reduce((sum, deal) => sum + deal.weightedMinor, 0),
      });
      expect(lanes.hidden).toBe(deals.length - expected.length);
    }),
    { numRuns: 120 },
  );
});

test.each(['name', '-name', 'value', '-value', 'close', '-close', 'stage,-value', 'priority,name'])(
  'sorted by %s the pages are the whole, each deal once',
  async (sort) => {
    const whole = await rep.ok('pageDeals', { query: { owner: 'all', sort } });
    const pages: DealRow[] = [];
    for (let after = 0; after < deals.length; after += 2)
      pages.push(...(await rep.ok('pageDeals', { query: { owner: 'all', sort, after, limit: 2 } })).rows);
    expect(pages.map(({ id }) => id)).toEqual(whole.rows.map(({ id }) => id));
    expect(new Set(pages.map(({ id }) => id)).size).toBe(deals.length);
  },
);

test('the undated come last, whichever way closes are sorted up', async () => {
  const { rows } = await rep.ok('pageDeals', { query: { owner: 'all', sort: 'close' } });
  expect(rows.map(({ expectedCloseOn }) => expectedCloseOn)).toEqual([
    '2026-11-10',
    '2026-11-24',
    '2026-11-30',
    '2026-12-01',
    '2027-03-01',
    null,
  ]);
});

test('grouped by a field of the organisation’s own, the groups are named, the empty one last', async () => {
  const group = `custom:${water.id}`;
  const { groups } = await rep.ok('countDeals', { query: { owner: 'all', group } });
  expect(groups.map(({ name, count }) => [name, count])).toEqual([
    ['borehole', 2],
    ['mains', 2],
    ['empty', 2],
  ]);
});

test('those of a person are theirs, and those in which they have a role', async () => {
  const signer = await aContact(rep, { givenName: 'Otto', familyName: 'Sign' });
  const [first] = deals;
  const { version, name, stageId, amountMinor, expectedCloseOn } = first!;
  const people = [{ contactId: signer.id, role: 'signs' }];
  await rep.ok('changeDeal', {
    params: { id: first!.id },
    body: { version, name, stageId, amountMinor, expectedCloseOn, people },
  });
  const of = async (contact: string) =>
    (await rep.ok('pageDeals', { query: { owner: 'all', contact } })).rows.length;
  expect([await of(signer.id), await of(first!.contactId!)]).toEqual([1, deals.length]);
});

test.each([
  ['a question the field does not allow', rule('close', 'has', 'x')],
  ['a date that is none', rule('close', 'before', 'tomorrow')],
  ['a number that is none', rule('value', 'more', 'much')],
  ['a question without its value', rule('name', 'is', '')],
  ['days that are none', rule('close', 'within-past', -5)],
  ['half a day', rule('close', 'within-next', 1.5)],
  ['days of contact that are none', rule('contacted', 'not-within-past', -5)],
  ['a stage that is no id', rule('stage', 'is', 'Offer')],
  ['a field of nobody', rule('custom:01938f6c-0000-7000-8000-000000000001', 'filled')],
])('%s is refused at the filter', async (_, wrong) => {
  const refused = await rep.call('listDeals', asked({ join: 'all', rules: [wrong] }));
  expect([refused.status, refused.body.fields?.[0]?.path]).toEqual([400, 'filter']);
});
