import type { Deal } from '@kettle/contract';
import fc from 'fast-check';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal, aLog, journalOf, stagesOf, standingNamed } from '../../../testing/people';

let installation: Installation;
let rep: Caller;
let colleague: Caller;
beforeAll(async () => {
  installation = await install();
  rep = await installation.as('rep', 'Ada Bright');
  colleague = await installation.as('rep', 'Ben Calder');
});
beforeEach(() => installation.clock.set('2026-11-24T09:10:00.000Z'));
afterAll(() => installation.close());

const bodyOf = (deal: Deal, part: object = {}) => ({
  version: deal.version,
  name: deal.name,
  stageId: deal.stageId,
  amountMinor: deal.amountMinor,
  expectedCloseOn: deal.expectedCloseOn,
  ...part,
});
const change = (deal: Deal, part: object, by = rep) =>
  by.call('changeDeal', { params: { id: deal.id }, body: bodyOf(deal, part) });
const changed = async (deal: Deal, part: object, by = rep) => {
  const { status, body } = await change(deal, part, by);
  expect([status, body.code]).toEqual([200, undefined]);
  return body as Deal;
};
const aNewDeal = async (part: object = {}, by = rep) => aDeal(by, (await aContact(by)).id, part);

describe('what hangs on a deal', () => {
  test('its value is the sum of its lines, one-off and the first year', async () => {
    const line = { name: 'softener', quantity: 2, priceMinor: 45_050, discountPercent: 10, billing: 'once' };
    const service = { name: 'service', quantity: 1, priceMinor: 12_000, billing: 'yearly' };
    const deal = await changed(await aNewDeal(), { lines: [line, service] });
    expect(deal.amountMinor).toBe(81_090 + 12_000);
    expect(deal.lines.map(({ totalMinor }) => totalMinor)).toEqual([81_090, 12_000]);
    expect((await changed(deal, { amountMinor: 5 })).amountMinor).toBe(93_090);
    expect(
      (
        await changed(await changed(deal, { amountMinor: 5, version: deal.version + 1 }), {
          lines: [],
          amountMinor: 7,
        })
      ).amountMinor,
    ).toBe(7);
  });

  test.each([
    [{ quantity: 0 }, 'lines.0.quantity'],
    [{ discountPercent: 101 }, 'lines.0.discountPercent'],
    [{ name: ' ' }, 'lines.0.name'],
  ])('a wrong line is told at its field: %j', async (part, path) => {
    const line = { name: 'x', quantity: 1, priceMinor: 1, billing: 'once', ...part };
    const refused = await change(await aNewDeal(), { lines: [line] });
    expect([refused.status, refused.body.fields[0].path]).toEqual([400, path]);
  });

  test('people with roles, competitors, type, priority and decision are kept; what is not sent stays', async () => {
    const deal = await aNewDeal();
    const boss = await aContact(rep, { givenName: 'Bo' });
    const full = await changed(deal, {
      people: [
        { contactId: boss.id, role: 'decides' },
        { contactId: boss.id, role: 'signs' },
        { contactId: deal.contactId, role: 'uses' },
      ],
      competitors: ['Kolk Filters', 'kolk filters', 'Nobody'],
      type: 'more',
      priority: 'high',
      decisionOn: '2026-12-11',
    });
    expect(full.people.map(({ role }) => role).sort()).toEqual(['decides', 'signs', 'uses']);
    expect(full.competitors).toEqual(['Kolk Filters', 'Nobody']);
    const later = await changed(full, { name: 'Renamed' });
    expect(later).toMatchObject({
      type: 'more',
      priority: 'high',
      decisionOn: '2026-12-11',
      people: full.people,
    });
    const words = (await journalOf(rep, { dealId: deal.id })).map(({ body }) => body).join('\n');
    expect(words).toContain('Competitors: none → Kolk Filters, Nobody');
  });

  test('the team may change it, others not, and only its owner gives it away', async () => {
    const deal = await aNewDeal();
    expect((await change(deal, { name: 'x' }, colleague)).body.code).toBe('not-yours');
    const shared = await changed(deal, { teamIds: [colleague.id] });
    const renamed = await changed(shared, { name: 'by the team' }, colleague);
    expect((await change(renamed, { ownerId: colleague.id }, colleague)).body.code).toBe('not-yours');
    const given = await changed(renamed, { ownerId: colleague.id });
    expect(given.ownerName).toBe('Ben Calder');
    const { tasks } = await colleague.ok('listTasks', {
      query: { dealId: deal.id },
    });
    expect(tasks.map(({ ownerId }) => ownerId)).toEqual([colleague.id]);
  });

  test('a deal stands under another, never under itself', async () => {
    const parent = await aNewDeal({ name: 'The whole house' });
    const child = await changed(await aNewDeal(), { parentId: parent.id });
    expect(child.parent).toEqual({ id: parent.id, name: 'The whole house' });
    const again = await rep.ok('getDeal', { params: { id: parent.id } });
    expect(again.children.map(({ id }) => id)).toEqual([child.id]);
    const loop = await change(again, { parentId: child.id });
    expect([loop.status, loop.body.fields[0].path]).toEqual([400, 'parentId']);
    expect((await change(again, { parentId: again.id })).body.fields[0].path).toBe('parentId');
  });

  test('names somebody who is not there: told at its part', async () => {
    const nobody = '01938f6c-0000-7000-8000-000000000001';
    const refused = await change(await aNewDeal(), { people: [{ contactId: nobody, role: 'uses' }] });
    expect(refused.body.fields[0].path).toBe('people');
    expect((await change(await aNewDeal(), { teamIds: [nobody] })).body.fields[0].path).toBe('teamIds');
    expect((await change(await aNewDeal(), { contactId: nobody })).body.fields[0].path).toBe('contactId');
  });
});

describe('closing', () => {
  const close = (deal: Deal, body: object) =>
    rep.call('closeDeal', {
      params: { id: deal.id },
      body: { version: deal.version, on: '2026-11-24', ...body },
    });
  const agreement = {
    name: 'Yearly service',
    startsOn: '2026-12-01',
    termMonths: 12,
    valueMinor: 48_000,
    noticeDays: 60,
    leadDays: 45,
    renewsItself: true,
  };

  test('won: its value, the agreement and the standing come in one step', async () => {
    const deal = await aNewDeal();
    const customer = await standingNamed(rep, 'Customer');
    const won = await close(deal, {
      as: 'won',
      amountMinor: 900_000,
      reason: 'service',
      words: 'they liked the visit',
      standingId: customer.id,
      agreement,
    });
    expect(won.body).toMatchObject({
      status: 'won',
      amountMinor: 900_000,
      closeReason: 'service',
      closedOn: '2026-11-24',
    });
    const { rows } = await rep.ok('listAgreements', {
      query: { companyId: deal.companyId! },
    });
    expect(rows).toMatchObject([
      { name: 'Yearly service', valueMinor: 48_000, noticeDeadlineOn: '2027-10-01' },
    ]);
    const contact = await rep.ok('getContact', { params: { id: deal.contactId! } });
    expect(contact.standingId).toBe(customer.id);
    expect((won.body as Deal).agreementId).toBe(rows[0]!.id);
  });

  test('somebody who buys for themselves has an agreement without a company', async () => {
    const person = await aContact(rep, { companyName: null });
    const won = (await close(await aDeal(rep, person.id), { as: 'won', agreement })).body as Deal;
    const { rows } = await rep.ok('listAgreements', {
      query: { contactId: person.id },
    });
    expect(rows).toMatchObject([
      { id: won.agreementId, companyId: null, companyName: null, contactName: person.name },
    ]);
  });

  test('an agreement that cannot be made leaves the deal open', async () => {
    const deal = await changed(await aNewDeal(), { teamIds: [colleague.id] });
    const refused = await colleague.call('closeDeal', {
      params: { id: deal.id },
      body: { version: deal.version, on: '2026-11-24', as: 'won', agreement },
    });
    expect([refused.status, refused.body.code]).toEqual([403, 'not-yours']);
    expect((await rep.ok('getDeal', { params: { id: deal.id } })).status).toBe('open');
  });

  test('lost: reason, competitor and words are kept', async () => {
    const lost = await close(await aNewDeal(), {
      as: 'lost',
      reason: 'price',
      lostTo: 'Kolk Filters',
      words: 'ten per cent less',
    });
    expect(lost.body).toMatchObject({
      status: 'lost',
      closeReason: 'price',
      lostTo: 'Kolk Filters',
      closeWords: 'ten per cent less',
    });
  });

  test('opened again, the agreement may go too, unless it was changed', async () => {
    const won = (await close(await aNewDeal(), { as: 'won', agreement })).body as Deal;
    const body = { version: won.version, next: { kind: 'none', reason: 'x' }, withdrawAgreement: true };
    const opened = await rep.ok('reopenDeal', { params: { id: won.id }, body });
    expect(opened).toMatchObject({ status: 'open', agreementId: null, closeReason: null });
    const again = (await close(opened, { as: 'won', agreement })).body as Deal;
    await installation.services.database.change('UPDATE agreement SET version = 2');
    const refused = await rep.call('reopenDeal', {
      params: { id: won.id },
      body: { ...body, version: again.version },
    });
    expect(refused.body.code).toBe('cannot-undo');
    const kept = (await rep.ok('getDeal', { params: { id: won.id } })).agreementId;
    expect(kept).not.toBeNull();
  });
});

describe('lists', () => {
  const names = async (name: 'listDeals' | 'pageDeals', query: object) =>
    (await rep.ok(name, { query: { owner: 'all', ...query } })).rows.map((row) => row.name).sort();
  const filter = (field: string, ask: string, value?: string | number) =>
    JSON.stringify({ join: 'all', rules: [{ field, ask, value }] });

  beforeAll(async () => {
    const alpha = await aNewDeal({ name: 'Alpha', amountMinor: 100_000, expectedCloseOn: '2026-12-05' });
    await changed(alpha, { competitors: ['Kolk'], priority: 'high', source: 'fair' });
    await aNewDeal({
      name: 'Beta',
      amountMinor: 300_000,
      expectedCloseOn: '2027-02-05',
      next: { kind: 'none', reason: 'x' },
    });
    const gamma = await aNewDeal({ name: 'Gamma', amountMinor: 50_000, expectedCloseOn: null }, colleague);
    await changed(gamma, { teamIds: [rep.id] }, colleague);
  });

  test.each([
    ['by a competitor', { filter: filter('competitor', 'is', 'Kolk') }, ['Alpha']],
    ['by priority', { filter: filter('priority', 'is', 'high'), q: 'Alpha' }, ['Alpha']],
    ['by value', { filter: filter('value', 'more', 2_000), q: 'eta' }, ['Beta']],
    ['by source', { filter: filter('source', 'is', 'fair') }, ['Alpha']],
    ['by the month they close', { from: '2027-02-01', to: '2027-02-28' }, ['Beta']],
    ['those that are loose', { show: 'loose', q: 'Beta' }, ['Beta']],
    ['my team’s', { owner: 'team', q: 'amma' }, ['Gamma']],
  ])('narrow %s', async (_, query, expected) => {
    expect(await names('listDeals', query)).toEqual(expected);
    expect(await names('pageDeals', query)).toEqual(expected);
  });

  test('a page goes on where the one before ended, in the order asked for', async () => {
    const page = (after: number) =>
      rep.ok('pageDeals', { query: { owner: 'all', sort: '-value,name', limit: 2, after } });
    const all = await rep.ok('pageDeals', {
      query: { owner: 'all', sort: '-value,name', limit: 200 },
    });
    const paged = [...(await page(0)).rows, ...(await page(2)).rows];
    expect(paged.map(({ id }) => id)).toEqual(all.rows.slice(0, 4).map(({ id }) => id));
    const values = all.rows.map(({ amountMinor }) => amountMinor);
    expect(values).toEqual([...values].sort((a, b) => b - a));
  });

  test('closed ones are listed by the day they closed', async () => {
    const lost = await rep.ok('pageDeals', {
      query: { owner: 'all', status: 'lost', from: '2026-11-24', to: '2026-11-24' },
    });
    expect(lost.rows.map(({ status }) => status)).toEqual(['lost']);
    expect(
      (await rep.ok('pageDeals', { query: { owner: 'all', status: 'lost', to: '2026-11-23' } })).rows,
    ).toEqual([]);
  });

  test.each(['stage', 'owner', 'pipeline', 'type', 'priority', 'source', 'company'])(
    'groups by %s add up to the whole, to the penny',
    async (group) => {
      const count = await rep.ok('countDeals', { query: { owner: 'all', status: 'any', group } });
      const sum = (of: 'value' | 'weighted') =>
        count.groups.reduce((total, each) => total + each.sums[of]!, 0);
      expect(count.groups.reduce((total, each) => total + each.count, 0)).toBe(count.found);
      expect([sum('value'), sum('weighted')]).toEqual([count.sums.value, count.sums.weighted]);
      expect(count.total).toBe(count.found);
    },
  );

  test('stages of two pipelines are groups one after the other, in the order of the rows', async () => {
    const admin = await installation.as('admin');
    const stages = ['Asked', 'Agreed'].map((name) => ({
      ...{ name, winProbability: 0.5, patienceDays: 14, needs: [], brief: { prompts: [], tasks: [] } },
    }));
    const made = await admin.ok('createPipeline', { body: { name: 'Service', stages } });
    for (const stage of made.stages) await aDeal(rep, (await aContact(rep)).id, { stageId: stage.id });
    const query = { owner: 'all', status: 'any', group: 'stage', sort: 'stage' };
    const { groups } = await rep.ok('countDeals', { query });
    const { rows } = await rep.ok('pageDeals', { query: { ...query, limit: 200 } });
    const inRows = rows.map(({ stageId }) => stageId).filter((id, at, all) => id !== all[at - 1]);
    expect(groups.map(({ key }) => key)).toEqual(inRows);
    expect(new Set(inRows).size).toBe(inRows.length);
  });

  test('totals of the database are those of the rows to the penny, after any moves', async () => {
    const deals = (await rep.ok('listDeals', { query: {} })).rows;
    const stages = await stagesOf(rep);
    const someMove = fc.record({
      deal: fc.nat(deals.length - 1),
      stage: fc.nat(stages.length - 1),
      amount: fc.nat(99_999),
    });
    await fc.assert(
      fc.asyncProperty(fc.array(someMove, { minLength: 1, maxLength: 4 }), async (moves) => {
        for (const { deal, stage, amount } of moves) {
          const now = await rep.ok('getDeal', { params: { id: deals[deal]!.id } });
          await changed(now, { stageId: stages[stage]!.id, amountMinor: amount, winProbability: null });
        }
        const { rows } = await rep.ok('listDeals', { query: {} });
        const { found, sums } = await rep.ok('countDeals', { query: {} });
        const sum = (of: 'amountMinor' | 'weightedMinor') => rows.reduce((total, row) => total + row[of], 0);
        expect([found, sums.value, sums.weighted]).toEqual([
          rows.length,
          sum('amountMinor'),
          sum('weightedMinor'),
        ]);
        expect(
          rows.every(({ tetherState }) => ['late', 'today', 'held', 'loose'].includes(tetherState)),
        ).toBe(true);
      }),
      { numRuns: 6 },
    );
  });

  test.each([
    ['a field that is not there', { filter: filter('nothing-here', 'is', 'x') }, 'filter'],
    ['an unknown sort', { sort: 'competitor' }, 'sort'],
  ])('%s is told', async (_, query, path) => {
    const refused = await rep.call('pageDeals', { query });
    expect([refused.status, refused.body.fields[0].path]).toEqual([400, path]);
  });
});

describe('when to let go', () => {
  test('tells tries, days and the chance learned from the journal', async () => {
    const deal = await aNewDeal();
    installation.clock.set('2026-12-01T09:10:00.000Z');
    for (let n = 0; n < 2; n += 1)
      await aLog(rep, deal.contactId!, { next: { kind: 'none', reason: 'later' } });
    const before = await rep.ok('lettingGo', { params: { id: deal.id } });
    expect(before).toMatchObject({ tries: 2, openDays: 7, chance: null, advice: 'too little known' });
    installation.clock.set('2027-01-15T09:10:00.000Z');
    await installation.work();
    const later = await installation.as('rep');
    const { learnAnswers } = await import('./letting-go');
    await installation.services.database.transaction((tx) => learnAnswers(tx, installation.clock.now()));
    const learned = await later.ok('lettingGo', { params: { id: deal.id } });
    expect(learned.chance).toBeNull();
    const fresh = await aNewDeal({ next: { kind: 'none', reason: 'x' } }, later);
    expect((await later.ok('lettingGo', { params: { id: fresh.id } })).chance).toMatchObject({
      rate: 0,
      cases: 1,
    });
  });
});
