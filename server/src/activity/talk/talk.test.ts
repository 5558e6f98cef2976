import { v7 } from 'uuid';
import { aContact, aDeal, aLead, journalOf } from '../../../testing/people';
import { install, type Caller, type Installation } from '../../../testing/installation';

let installation: Installation;
let rep: Caller;
let colleague: Caller;
beforeAll(async () => {
  installation = await install();
  rep = await installation.as('rep', 'Imogen Thorne');
  colleague = await installation.as('rep', 'Dara Finch');
});
afterAll(() => installation.close());

const say = (caller: Caller, about: object, body: string, id: string = v7()) =>
  caller.ok('writeTalk', { body: { id, ...about, body } });
const heard = async (caller: Caller, about: object) =>
  (await caller.ok('listTalk', { query: about })).messages.map(
    ({ userName, body }) => `${userName}: ${body}`,
  );
const told = async (caller: Caller) =>
  (await caller.ok('listNotifications')).notifications.map(({ words }) => words);

test('colleagues talk about a record of anybody; the customer’s journal stays as it is', async () => {
  const contact = await aContact(rep);
  const deal = await aDeal(rep, contact.id);
  const lead = await aLead(rep);
  const before = await journalOf(rep, { contactId: contact.id });
  for (const about of [{ contactId: contact.id }, { dealId: deal.id }, { leadId: lead.id }]) {
    const id = v7();
    await say(colleague, about, 'Did they ask for a lift?', id);
    await say(colleague, about, 'Did they ask for a lift?', id);
    await say(rep, about, 'They did.');
    expect(await heard(rep, about)).toEqual([
      'Dara Finch: Did they ask for a lift?',
      'Imogen Thorne: They did.',
    ]);
  }
  expect(await journalOf(rep, { contactId: contact.id })).toEqual(before);
  // Whoever spoke before hears the answer.
  expect((await told(colleague))[0]).toContain('Imogen Thorne on');
});

test('who is named is told; what one said can be taken back by oneself, and the taking back undone', async () => {
  const about = { contactId: (await aContact(rep, { familyName: 'Ellery' })).id };
  const id = v7();
  await say(rep, about, '@Dara do you know them?', id);
  expect((await told(colleague))[0]).toContain('do you know them?');
  expect((await colleague.call('removeTalk', { params: { id } })).status).toBe(404);
  const changeId = v7();
  await rep.ok('removeTalk', { params: { id }, changeId });
  expect(await heard(rep, about)).toEqual([]);
  await rep.ok('undoChange', { params: { id: changeId } });
  expect(await heard(rep, about)).toHaveLength(1);
});

test('it goes over when people are merged, and is about exactly one record', async () => {
  const [kept, gone] = [await aContact(rep), await aContact(rep)];
  await say(rep, { contactId: gone.id }, 'The same as the other.');
  const both = { keepId: kept.id, goneId: gone.id, keepVersion: kept.version, goneVersion: gone.version };
  await rep.ok('mergeContacts', { body: both });
  expect(await heard(rep, { contactId: kept.id })).toHaveLength(1);
  const body = { id: v7(), body: 'x', contactId: kept.id, companyId: v7() };
  expect((await rep.call('writeTalk', { body })).status).toBe(400);
  expect((await rep.call('listTalk', { query: {} })).status).toBe(400);
});

test('who may not read a record hears and says nothing about it', async () => {
  const admin = await installation.as('admin');
  const about = { contactId: (await aContact(rep)).id };
  const allow = async (reading: 'own' | 'all') =>
    admin.ok('changeRightsSettings', { body: { ...(await admin.ok('rightsSettings')), reading } });
  await allow('own');
  expect((await colleague.call('listTalk', { query: about })).status).toBe(404);
  expect((await colleague.call('writeTalk', { body: { id: v7(), ...about, body: 'Hello' } })).status).toBe(
    404,
  );
  await allow('all');
});
