import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal } from '../../../testing/people';
import { learnUsualAmounts, readUsualAmounts } from '../../processes/deals/index';

let installation: Installation;
let rep: Caller;
beforeAll(async () => {
  installation = await install();
  rep = await installation.as('rep');
});
afterAll(() => installation.close());

const learn = () =>
  installation.services.database.transaction((tx) => learnUsualAmounts(tx, installation.clock.now()));
const none = { kind: 'none', reason: 'they will call' };
const allRows = async () => {
  const { above, below } = await rep.ok('round', { query: {} });
  return [...above, ...below];
};
/** The deal's row with its arithmetic. */
const rowOf = async (dealId: string) => {
  const rows = await allRows();
  return rows.find((row) => row.dealId === dealId)!;
};

test('a loose deal without a value counts as the median of the open ones, and the row says so', async () => {
  const nothing = await aDeal(rep, (await aContact(rep)).id, { amountMinor: 0, next: none });
  expect((await rowOf(nothing.id)).arithmetic.stakeMinor).toBeGreaterThan(0);
  for (const amountMinor of [100_000, 400_000, 2_000_000])
    await aDeal(rep, (await aContact(rep)).id, { amountMinor, next: none });
  await learn();
  const usual = await readUsualAmounts(installation.services.database);
  expect(usual).toMatchObject({ dealMinor: 400_000, yearlyMinor: null });
  const { arithmetic } = await rowOf(nothing.id);
  const { winProbability } = await rep.ok('getDeal', { params: { id: nothing.id } });
  expect(arithmetic.stakeMinor).toBe(Math.round(400_000 * winProbability));
  expect(arithmetic.sentence).toMatch(/\. Its value is not known: the usual one counts\.$/);
  const rows = await allRows();
  const known = rows.filter(({ dealId }) => dealId !== null && dealId !== nothing.id);
  expect(known.length).toBe(3);
  expect(known.every((row) => !row.arithmetic.sentence.includes('not known'))).toBe(true);
});

test('a promise is worth a tenth of what an open deal usually weighs, unless the organisation says otherwise', async () => {
  const admin = await installation.as('admin');
  const { id: contactId } = await aContact(rep);
  const task = { contactId, channel: 'call', purpose: 'promised', dueOn: '2026-11-24', minutes: 5 };
  await rep.ok('createTask', { body: { ...task, promisedMinute: 15 * 60 } });
  const stake = async () => {
    const rows = await allRows();
    return rows.find(({ purpose }) => purpose.includes('promised'))!.arithmetic.stakeMinor;
  };
  const settings = async (part: object) =>
    admin.ok('changeRoundSettings', { body: { ...(await admin.ok('roundSettings')), ...part } });
  await settings({ leadMinor: 100 });
  const { values } = await admin.ok('learnedValues');
  const { learned, cases } = values.find(({ name }) => name === 'promiseMinor')!;
  expect([cases, await stake()]).toEqual([3, learned]);
  await settings({ promiseMinor: 7700 });
  expect(await stake()).toBe(7700);
});
