import type { Product } from '@kettle/contract';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal } from '../../../testing/people';

let installation: Installation;
let admin: Caller;
let rep: Caller;
beforeAll(async () => {
  installation = await install();
  admin = await installation.as('admin');
  rep = await installation.as('rep');
});
afterAll(() => installation.close());

let made = 0;
const aProduct = (part: object = {}) =>
  admin.ok('createProduct', {
    body: { name: `Softener ${(made += 1)}`, priceMinor: 385_000, billing: 'once', ...part },
  });
const change = (product: Product, part: object) => {
  const { id, version, name, priceMinor, billing, isRetired } = product;
  return admin.call('changeProduct', {
    params: { id },
    body: { version, name, priceMinor, billing, isRetired, ...part },
  });
};
const names = async () => (await rep.ok('listProducts')).products.map(({ name }) => name);

describe('a product', () => {
  test('is added by an admin alone, and offered to everybody', async () => {
    const product = await aProduct({ name: 'Dosing set' });
    expect(product).toMatchObject({ priceMinor: 385_000, isRetired: false, version: 1 });
    const refused = await rep.call('createProduct', {
      body: { name: 'Mine', priceMinor: 1, billing: 'once' },
    });
    expect(refused.status).toBe(403);
    expect(await names()).toContain('Dosing set');
  });

  test('has a name of its own, without regard to case', async () => {
    await aProduct({ name: 'Filter' });
    const twice = await admin.call('createProduct', {
      body: { name: 'FILTER', priceMinor: 1, billing: 'once' },
    });
    expect([twice.status, twice.body.code]).toEqual([409, 'already-exists']);
    const other = await aProduct();
    expect((await change(other, { name: 'filter' })).body.code).toBe('already-exists');
  });

  test('is changed over its version', async () => {
    const product = await aProduct();
    const now = (await change(product, { priceMinor: 395_000 })).body as Product;
    expect(now).toMatchObject({ priceMinor: 395_000, version: 2 });
    const late = await change(product, { priceMinor: 1 });
    expect([late.status, late.body.code, late.body.current.priceMinor]).toEqual([409, 'stale', 395_000]);
  });

  test('no longer sold comes last, and stays in the deals that have it, at their price', async () => {
    const product = await aProduct({ name: 'A softener of old' });
    const line = {
      productId: product.id,
      name: product.name,
      quantity: 2,
      priceMinor: 100_000,
      billing: 'once',
    };
    const deal = await aDeal(rep, (await aContact(rep)).id, { lines: [line] });
    await change(product, { isRetired: true, priceMinor: 999_000 });
    expect((await names()).at(-1)).toBe('A softener of old');
    const kept = await rep.ok('getDeal', { params: { id: deal.id } });
    expect(kept.lines).toMatchObject([{ productId: product.id, priceMinor: 100_000, totalMinor: 200_000 }]);
    expect(kept.amountMinor).toBe(200_000);
  });

  test.each([
    ['name', { name: ' ' }],
    ['priceMinor', { priceMinor: -1 }],
    ['billing', { billing: 'monthly' }],
  ])('with a wrong %s is refused at that field', async (path, part) => {
    const body = { name: 'x', priceMinor: 1, billing: 'once', ...part };
    const refused = await admin.call('createProduct', { body });
    expect([refused.status, refused.body.fields[0].path]).toEqual([400, path]);
  });
});

describe('reasons', () => {
  test('are kept in their order over a version, by an admin alone', async () => {
    const before = await rep.ok('closeReasons');
    const body = { ...before, lost: ['price', 'another supplier'] };
    expect((await rep.call('changeCloseReasons', { body })).status).toBe(403);
    const after = await admin.ok('changeCloseReasons', { body });
    expect(after).toMatchObject({ lost: ['price', 'another supplier'], version: before.version + 1 });
    const late = await admin.call('changeCloseReasons', { body: { ...body, lost: [] } });
    expect([late.status, late.body.current.lost]).toEqual([409, ['price', 'another supplier']]);
  });

  test('a reason that is typed and stands in no list is taken as it is', async () => {
    const deal = await aDeal(rep, (await aContact(rep)).id);
    const lost = await rep.ok('closeDeal', {
      params: { id: deal.id },
      body: { as: 'lost', version: deal.version, on: '2026-11-24', reason: 'their cousin sells softeners' },
    });
    expect(lost.closeReason).toBe('their cousin sells softeners');
  });
});
