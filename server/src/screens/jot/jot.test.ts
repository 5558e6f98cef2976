import { v4 } from 'uuid';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal, journalOf } from '../../../testing/people';

let installation: Installation;
let rep: Caller;
beforeEach(async () => {
  installation = await install();
  rep = await installation.as('rep');
});
afterEach(() => installation.close());

const read = (line: string, answers: object = {}) => rep.ok('readJot', { body: { line, answers } });
const tasksOf = async (contactId: string) => (await rep.ok('listTasks', { query: { contactId } })).tasks;

test('a line knows colleagues and open deals by their names', async () => {
  const manager = await installation.as('manager', 'Dara Finch');
  const maud = await aContact(rep, { familyName: 'Penrow' });
  const deal = await aDeal(rep, maud.id, { name: 'Wren: softener' });
  expect(await read('task for Dara: call Maud Penrow tomorrow')).toMatchObject({
    act: 'task',
    person: { id: maud.id },
    task: { owner: { id: manager.id, name: 'Dara Finch' } },
  });
  expect(await read('call about the Wren deal tomorrow')).toMatchObject({
    person: { id: maud.id },
    act: 'task',
  });
  expect(await read('won the Wren deal')).toMatchObject({
    act: 'closing',
    closing: 'won',
    deal: { id: deal.id },
  });
});

test('a deal of somebody one may not read is not known', async () => {
  const admin = await installation.as('admin');
  const rights = await admin.ok('rightsSettings');
  await admin.ok('changeRightsSettings', { body: { ...rights, reading: 'own' } });
  const other = await installation.as('rep');
  const theirs = await aContact(other, { familyName: 'Penrow' });
  await aDeal(other, theirs.id, { name: 'Wren: softener' });
  expect(await read('won the Wren deal')).toMatchObject({ closing: null, deal: null });
});

test('an act with its next step for a colleague is one change, and undone as one', async () => {
  const manager = await installation.as('manager', 'Dara Finch');
  const maud = await aContact(rep);
  const theo = await aContact(rep);
  const changeId = v4();
  const body = {
    act: 'log',
    id: v4(),
    contactId: maud.id,
    alsoContactIds: [theo.id],
    outcomeId: 'call-spoke',
    minutes: 12,
    body: 'wants price',
    next: { kind: 'none', reason: 'planned for Dara Finch' },
    task: { channel: 'call', purpose: 'tell the price', dueOn: '2026-11-26', ownerId: manager.id },
  };
  expect((await rep.call('saveJot', { body, changeId })).body).toEqual({
    contactId: maud.id,
    leadId: null,
    name: maud.name,
  });
  const entryOf = async (contactId: string) =>
    (await journalOf(rep, { contactId })).find((each) => each.kind === 'call');
  expect(await entryOf(maud.id)).toMatchObject({ body: 'wants price', minutes: 12 });
  expect(await entryOf(theo.id)).toMatchObject({ body: 'wants price' });
  expect((await tasksOf(maud.id))[0]).toMatchObject({ ownerId: manager.id, purpose: 'tell the price' });
  await rep.ok('undoChange', { params: { id: changeId } });
  expect([await entryOf(maud.id), await tasksOf(maud.id)]).toEqual([undefined, []]);
});

test('a lead with what is planned for it is undone as one', async () => {
  const changeId = v4();
  const body = {
    act: 'lead',
    lead: {
      subject: 'a softener',
      source: 'jot',
      tags: ['hot'],
      person: { givenName: 'Nora', familyName: 'Pell' },
    },
    task: { channel: 'call', purpose: 'follow up', dueOn: '2026-11-25' },
  };
  const { contactId, leadId } = (await rep.call('saveJot', { body, changeId })).body as Record<
    string,
    string
  >;
  expect(await rep.ok('getLead', { params: { id: leadId! } })).toMatchObject({
    tags: ['hot'],
    subject: 'a softener',
  });
  expect(await tasksOf(contactId!)).toHaveLength(1);
  await rep.ok('undoChange', { params: { id: changeId } });
  expect((await rep.call('getLead', { params: { id: leadId! } })).status).toBe(404);
  expect((await rep.call('getContact', { params: { id: contactId! } })).status).toBe(404);
});

test('what is refused writes nothing: a day that is over, a person of a colleague', async () => {
  const maud = await aContact(rep);
  const task = { channel: 'call', purpose: 'follow up', dueOn: '2026-01-05' };
  const late = { act: 'task', id: v4(), contactId: maud.id, body: 'as agreed', task };
  expect((await rep.call('saveJot', { body: late })).body).toMatchObject({ code: 'in-the-past' });
  expect((await journalOf(rep, { contactId: maud.id })).some((each) => each.kind === 'note')).toBe(false);
  const other = await installation.as('rep');
  const note = { act: 'note', id: v4(), contactId: maud.id, body: 'mine now' };
  expect((await other.call('saveJot', { body: note })).status).toBe(403);
});

test('somebody to be met at a time and a place is in the calendar, and gone with the undo', async () => {
  const changeId = v4();
  const maud = await aContact(rep);
  const task = {
    channel: 'meeting',
    purpose: 'follow up',
    dueOn: '2026-12-03',
    promisedMinute: 840,
    minutes: 45,
  };
  const body = { act: 'task', id: v4(), contactId: maud.id, body: '', task: { ...task, place: 'Mill Lane' } };
  await rep.ok('saveJot', { body, changeId });
  const entries = async () =>
    (await rep.ok('calendar', { query: { from: '2026-12-03', days: 1 } })).entries.map(
      ({ place, startsAt, endsAt }) => [place, startsAt, endsAt],
    );
  expect(await entries()).toEqual([['Mill Lane', '2026-12-03T14:00:00.000Z', '2026-12-03T14:45:00.000Z']]);
  await rep.ok('undoChange', { params: { id: changeId } });
  expect(await entries()).toEqual([]);
});
