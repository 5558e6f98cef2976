import { install, type Caller, type Installation } from '../../../testing/installation';
import { aLead, aLog } from '../../../testing/people';

let installation: Installation;
let rep: Caller;
let colleague: Caller;
beforeAll(async () => {
  installation = await install();
  rep = await installation.as('rep');
  colleague = await installation.as('rep');
});
afterAll(() => installation.close());

const period = { from: '2026-11-01', to: '2026-11-30' };
const dropOff = (query: object = {}, by = rep) =>
  by.ok('leadDropOff', { query: { ...period, owner: 'all', ...query } });

test('how far leads came by source, and why they were set aside; what is archived counts', async () => {
  const untried = await aLead(rep, { source: 'fair' });
  const tried = await aLead(rep, { source: 'fair' });
  const talked = await aLead(rep, { source: 'fair' });
  const other = await aLead(colleague, { source: 'web' });
  installation.clock.set('2026-11-24T11:00:00.000Z');
  await aLog(rep, tried.contactId);
  await aLog(rep, talked.contactId, { outcomeId: 'call-spoke' });
  for (const { id } of [tried, talked]) {
    const { version } = await rep.ok('getLead', { params: { id } });
    const body = { version, reason: 'no budget', wakeOn: null };
    await rep.ok('setLeadAside', { params: { id }, body });
  }
  const found = await dropOff();
  expect(found.total).toEqual({ began: 4, tried: 2, talked: 1, qualified: 0, aside: 2 });
  expect(found.sources).toEqual([
    { source: 'fair', began: 3, tried: 2, talked: 1, qualified: 0, aside: 2 },
    { source: 'web', began: 1, tried: 0, talked: 0, qualified: 0, aside: 0 },
  ]);
  expect(found.reasons).toEqual([{ reason: 'no budget', count: 2, tried: 2, talked: 1 }]);
  expect((await dropOff({ owner: 'mine' }, colleague)).total.began).toBe(1);
  expect((await dropOff({ from: '2026-10-01', to: '2026-10-31' })).total.began).toBe(0);

  const ids = [untried.id, tried.id, talked.id];
  const archive = (isArchived: boolean) => rep.ok('archiveLeads', { body: { ids, isArchived } });
  // One that is neither qualified nor set aside stays.
  expect(await archive(true)).toEqual({ changed: 2, left: 1 });
  expect(await archive(true)).toEqual({ changed: 0, left: 3 });
  expect((await dropOff()).total).toEqual(found.total);
  expect(await archive(false)).toEqual({ changed: 2, left: 1 });
  const theirs = await rep.call('archiveLeads', { body: { ids: [other.id], isArchived: true } });
  expect([theirs.status, theirs.body.code]).toEqual([403, 'not-yours']);
});

test('a qualified one passed every step, whatever was logged', async () => {
  const lead = await aLead(rep, { source: 'phone' });
  await installation.services.database.change("UPDATE sales_lead SET status = 'qualified' WHERE id = :id", {
    id: Buffer.from(lead.id.replaceAll('-', ''), 'hex'),
  });
  const { sources } = await dropOff();
  expect(sources.find(({ source }) => source === 'phone')).toEqual({
    ...{ source: 'phone', began: 1, tried: 1, talked: 1, qualified: 1, aside: 0 },
  });
  const wrong = await rep.call('leadDropOff', { query: { from: '2026-12-01', to: '2026-11-01' } });
  expect(wrong.status).toBe(400);
});
