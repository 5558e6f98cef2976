import { randomUUID } from 'node:crypto';
import type { OrganisationSettings } from '@kettle/contract';
import fc from 'fast-check';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal, journalOf } from '../../../testing/people';
import { wholeState } from '../../../testing/whole-state';

let installation: Installation;
let rep: Caller;
let admin: Caller;
beforeAll(async () => {
  installation = await install();
  [rep, admin] = [await installation.as('rep'), await installation.as('admin')];
});
beforeEach(() => installation.clock.set('2026-11-24T09:10:00.000Z'));
afterAll(() => installation.close());

const read = () => admin.ok('organisationSettings');
async function save(part: Partial<OrganisationSettings>, by = admin) {
  const changeId = randomUUID();
  const { status, body } = await by.call('changeOrganisationSettings', {
    body: { ...(await read()), ...part },
    changeId,
  });
  return { status, body, changeId };
}
const euro = (rate: number, from = '2026-01-01') => ({ currency: 'EUR', from, rate });
const readDeal = (id: string) => rep.ok('getDeal', { params: { id } });
const sums = async () => {
  const { found, sums } = await rep.ok('countDeals', { query: { owner: 'mine', status: 'open' } });
  return { count: found, totalMinor: sums.value!, weightedMinor: sums.weighted, unvalued: sums.unvalued };
};

test('a deal in another currency is in no sum until there is a rate, then it is there at that rate', async () => {
  const contact = await aContact(rep);
  const base = { expectedCloseOn: '2026-12-18' };
  await aDeal(rep, contact.id, { ...base, amountMinor: 100_000 });
  const deal = await aDeal(rep, contact.id, { ...base, amountMinor: 100_000, currency: 'EUR' });
  expect(deal).toMatchObject({ currency: 'EUR', amountMinor: 100_000, homeMinor: null, weightedMinor: 0 });
  expect(await sums()).toMatchObject({ count: 2, totalMinor: 100_000, unvalued: 1 });
  expect((await save({ rates: [euro(0.86)] })).status).toBe(200);
  expect(await readDeal(deal.id)).toMatchObject({ amountMinor: 100_000, homeMinor: 86_000 });
  expect(await sums()).toMatchObject({ count: 2, totalMinor: 186_000, unvalued: 0 });
  const { company } = await rep.ok('getCompany', {
    params: { id: contact.companyId! },
  });
  expect(company.openValueMinor).toBe(186_000);
  const { rows } = await rep.ok('listDeals', { query: { owner: 'mine' } });
  expect(rows.map(({ homeMinor }) => homeMinor).sort()).toEqual([100_000, 86_000].sort());
  expect((await rep.ok('session')).currencies).toEqual(['GBP', 'EUR']);
});

test('what is open follows the rate of the day, what was won keeps that of its day', async () => {
  await save({ rates: [euro(0.8), euro(0.9, '2026-11-25')] });
  const contact = await aContact(rep);
  const [open, won] = [
    await aDeal(rep, contact.id, { amountMinor: 50_000, currency: 'EUR' }),
    await aDeal(rep, contact.id, { amountMinor: 50_000, currency: 'EUR' }),
  ];
  const body = { version: won.version, as: 'won', on: '2026-11-24', reason: null, words: '', tick: [] };
  await rep.ok('closeDeal', {
    params: { id: won.id },
    body: { ...body, amountMinor: 60_000, standingId: null, agreement: null },
  });
  installation.clock.set('2026-11-26T09:10:00.000Z');
  await admin.ok('organisationSettings');
  await save({ companyDailyLimit: 4 });
  expect([(await readDeal(open.id)).homeMinor, (await readDeal(won.id)).homeMinor]).toEqual([45_000, 48_000]);
});

test('changing rates is undone to the row, the sums with it; changing a deal’s currency is told in its journal', async () => {
  await save({ rates: [euro(0.5)] });
  const deal = await aDeal(rep, (await aContact(rep)).id, { amountMinor: 80_000, currency: 'EUR' });
  const before = await wholeState(installation.services.database);
  const { changeId } = await save({ rates: [euro(0.7)] });
  expect((await readDeal(deal.id)).homeMinor).toBe(56_000);
  await admin.ok('undoChange', { params: { id: changeId } });
  expect(await wholeState(installation.services.database)).toEqual(before);
  await rep.ok('changeDeal', {
    params: { id: deal.id },
    body: {
      version: deal.version,
      name: deal.name,
      stageId: deal.stageId,
      amountMinor: 80_000,
      currency: 'GBP',
      expectedCloseOn: deal.expectedCloseOn,
      ownerId: deal.ownerId,
    },
  });
  expect(await readDeal(deal.id)).toMatchObject({ currency: 'GBP', homeMinor: 80_000 });
  expect((await journalOf(rep, { dealId: deal.id })).map(({ body }) => body).join('\n')).toContain(
    'Value: €800 → £800',
  );
});

test('with another currency of the organisation’s everything is counted in that one', async () => {
  const contact = await aContact(rep);
  await save({ rates: [] });
  const deal = await aDeal(rep, contact.id, { amountMinor: 10_000 });
  const { changeId } = await save({
    currency: 'EUR',
    rates: [{ currency: 'GBP', from: '2026-01-01', rate: 1.25 }],
  });
  expect(await readDeal(deal.id)).toMatchObject({ currency: 'GBP', amountMinor: 10_000, homeMinor: 12_500 });
  const next = await aDeal(rep, contact.id, { amountMinor: 10_000 });
  expect(next).toMatchObject({ currency: 'EUR', homeMinor: 10_000 });
  // The deal made since keeps its own currency, and has no rate in the old one.
  await admin.ok('undoChange', { params: { id: changeId } });
  expect([(await readDeal(deal.id)).homeMinor, (await readDeal(next.id)).homeMinor]).toEqual([10_000, null]);
});

test('a rate is of whole units: yen have no pence, dinars have three places', async () => {
  const contact = await aContact(rep);
  const yen = await aDeal(rep, contact.id, { amountMinor: 250_000, currency: 'JPY' });
  const dinar = await aDeal(rep, contact.id, { amountMinor: 1_500_500, currency: 'KWD' });
  await save({
    currency: 'GBP',
    rates: [
      { currency: 'JPY', from: '2026-01-01', rate: 0.005 },
      { currency: 'KWD', from: '2026-01-01', rate: 2.5 },
    ],
  });
  expect((await readDeal(yen.id)).homeMinor).toBe(125_000);
  expect((await readDeal(dinar.id)).homeMinor).toBe(375_125);
  const { text } = await rep.call('exportDeals', { query: { owner: 'mine', columns: 'value,weighted' } });
  expect(text).toMatch(/^250000,JPY,\d+\.\d\d,GBP\r$/m);
  expect(text).toMatch(/^1500\.500,KWD,\d+\.\d\d,GBP\r$/m);
});

test('other holidays move the check-ins of everybody who would be met on one', async () => {
  const contact = await aContact(rep, { checkInDays: 6 });
  const due = async () => (await rep.ok('getContact', { params: { id: contact.id } })).checkInDueOn;
  const before = await due();
  await save({ regions: { GB: 'SCT' } });
  await installation.work();
  // St Andrew's Day: a bank holiday in Scotland.
  expect([before, await due()]).toEqual(['2026-11-30', '2026-12-01']);
  const { body } = await save({
    ownDaysOff: [
      { on: '2026-12-29', name: 'x' },
      { on: '2026-12-29', name: 'y' },
    ],
  });
  expect((body as { fields: object[] }).fields).toEqual([
    { path: 'ownDaysOff.1.on', message: 'is there twice' },
  ]);
  const { regions } = await rep.ok('holidayRegions', { query: { country: 'GB' } });
  expect(regions.map(({ code }) => code)).toContain('SCT');
  await save({ regions: {} });
});

test('what is in the organisation’s own currency keeps its figure when that has other places, and an undo puts it back', async () => {
  await save({ currency: 'GBP', rates: [] });
  const product = await admin.ok('createProduct', {
    body: { name: 'softener, small', priceMinor: 38_550, billing: 'once' },
  });
  const field = await admin.ok('createCustomField', {
    body: { subject: 'contact', name: 'Budget', type: 'money', choices: [] },
  });
  const contact = await aContact(rep, { custom: { [field.id]: 100_000 } });
  await admin.ok('changeRoundSettings', {
    body: { ...(await admin.ok('roundSettings')), leadMinor: 24_000 },
  });
  const before = await wholeState(installation.services.database);
  const { changeId, status } = await save({ currency: 'JPY', rates: [] });
  expect(status).toBe(200);
  const { priceMinor } = (await admin.ok('listProducts')).products.find(({ id }) => id === product.id)!;
  const { custom } = await admin.ok('getContact', { params: { id: contact.id } });
  const { leadMinor } = await admin.ok('roundSettings');
  expect([priceMinor, custom[field.id], leadMinor]).toEqual([386, 1000, 240]);
  // What nobody set has the usual figure in any currency.
  const { values } = await admin.ok('learnedValues');
  expect(values.find(({ name }) => name === 'leadMinor')!.usual).toBe(120);
  await admin.ok('undoChange', { params: { id: changeId } });
  expect(await wholeState(installation.services.database)).toEqual(before);
});

test('an agreement in another currency is worth a year what its rate says', async () => {
  await save({ rates: [euro(0.5)] });
  const contact = await aContact(rep);
  const made = await rep.ok('createAgreement', {
    body: {
      name: 'Yearly service',
      contactId: contact.id,
      startsOn: '2026-03-01',
      termMonths: 12,
      valueMinor: 120_000,
      currency: 'EUR',
      noticeDays: 60,
      leadDays: 60,
      renewsItself: true,
    },
  });
  expect(made).toMatchObject({ currency: 'EUR', valueMinor: 120_000, homeMinor: 60_000 });
});

test('a rep may not, and what is wrong is said at its place', async () => {
  expect((await save({ companyDailyLimit: 9 }, rep)).status).toBe(403);
  const wrong = async (part: object) => (await save(part)).body.fields as { path: string; message: string }[];
  expect(await wrong({ rates: [{ currency: 'GBP', from: '2026-01-01', rate: 1 }] })).toEqual([
    { path: 'rates.0.currency', message: 'is the organisation’s own' },
  ]);
  expect(await wrong({ rates: [euro(1), euro(2)] })).toEqual([
    { path: 'rates.1.from', message: 'is there twice for this currency' },
  ]);
  expect(await wrong({ rates: [euro(0)] })).toEqual([
    { path: 'rates.0.rate', message: 'must be more than nothing' },
  ]);
  expect(await wrong({ homeCountry: 'Britain' })).toEqual([
    { path: 'homeCountry', message: 'must be a two-letter country code' },
  ]);
});

test('sums are those of the parts at their rates, whatever the rates and the amounts', async () => {
  const contact = await aContact(rep);
  await fc.assert(
    fc.asyncProperty(
      fc.record({
        rate: fc.integer({ min: 1, max: 3_000 }).map((n) => n / 1000),
        amounts: fc.array(fc.tuple(fc.integer({ min: 0, max: 10_000_000 }), fc.boolean()), { maxLength: 4 }),
      }),
      async ({ rate, amounts }) => {
        await save({ rates: [euro(rate)] });
        const before = (await sums()).totalMinor;
        for (const [amountMinor, isForeign] of amounts)
          await aDeal(rep, contact.id, { amountMinor, ...(isForeign ? { currency: 'EUR' } : {}) });
        const more = amounts.reduce(
          (sum, [amount, isForeign]) => sum + (isForeign ? Math.round(amount * rate) : amount),
          0,
        );
        // Half a penny each: the database rounds the exact decimal, this the nearest double.
        expect(Math.abs((await sums()).totalMinor - before - more)).toBeLessThanOrEqual(amounts.length);
      },
    ),
    { numRuns: 12 },
  );
});

describe('what the Round reckons with', () => {
  const settings = () => admin.ok('roundSettings');

  test('is changed by an admin, changes the order at once, and is undone', async () => {
    const contact = await aContact(rep, { checkInDays: 2 });
    installation.clock.set('2026-12-01T09:10:00.000Z');
    const chief = await installation.as('admin');
    const stake = async () => {
      const { above, below } = await chief.ok('round', { query: { owner: rep.id } });
      return [...above, ...below].find((row) => row.contactId === contact.id)!.arithmetic.stakeMinor;
    };
    const before = await stake();
    const changeId = randomUUID();
    const seen = await settings();
    const body = { ...seen, leadMinor: seen.leadMinor! * 10 };
    expect((await chief.call('changeRoundSettings', { body, changeId })).status).toBe(200);
    expect(await stake()).toBe(before * 10);
    await chief.ok('undoChange', { params: { id: changeId } });
    expect(await stake()).toBe(before);
  });

  test('a chance above one and a rep are refused', async () => {
    const body = await settings();
    const wrong = { ...body, silenceLossChance: 1.2 };
    expect((await admin.call('changeRoundSettings', { body: wrong })).body.fields[0].path).toBe(
      'silenceLossChance',
    );
    expect((await rep.call('changeRoundSettings', { body })).status).toBe(403);
  });
});
