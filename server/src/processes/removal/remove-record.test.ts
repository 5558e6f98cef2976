import { randomUUID } from 'node:crypto';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal, aLead, aLog } from '../../../testing/people';
import { wholeState } from '../../../testing/whole-state';
import { bytesOf } from '../../platform/ids';
import { readSchema } from '../../platform/database/schema';
import { fateOf } from './remove-record';

let installation: Installation;
let rep: Caller;
beforeAll(async () => {
  installation = await install();
  rep = await installation.as('rep', 'Imogen Thorne');
});
afterAll(() => installation.close());

const remove = async (kind: string, { id, version }: { id: string; version: number }, by = rep) => {
  const changeId = randomUUID();
  const { status, body } = await by.call('removeRecord', { body: { kind, id, version }, changeId });
  return { changeId, status, code: body.code as string | undefined, detail: body.detail as string };
};
const undo = (changeId: string) => rep.ok('undoChange', { params: { id: changeId } });
const read = (id: string) => rep.ok('getContact', { params: { id } });

test('a contact goes with journal, tasks, cadence, lead, tags and numbers; the undo brings all of it back', async () => {
  const contact = await aContact(rep, {
    tags: ['fair'],
    otherPoints: [{ kind: 'email', label: 'home', value: 'maud@home.example' }],
  });
  await aLog(rep, contact.id, { body: 'hello', outcomeId: 'call-spoke' });
  await rep.ok('createTask', {
    body: { contactId: contact.id, channel: 'call', purpose: 'ask', dueOn: '2026-11-30', minutes: 5 },
  });
  const admin = await installation.as('admin');
  const own = await admin.ok('createCustomField', {
    body: { subject: 'lead', name: 'Water a day', type: 'number', choices: [] },
  });
  await rep.ok('createLead', {
    body: { subject: 'a softener', contactId: contact.id, custom: { [own.id]: 12 } },
  });
  const { cadences } = await rep.ok('listCadences');
  await rep.ok('startRuns', {
    params: { id: cadences[0]!.id },
    body: { requestId: randomUUID(), versionId: cadences[0]!.versionId, contactIds: [contact.id] },
  });
  const before = await wholeState(installation.services.database);
  const { changeId, status } = await remove('contact', await read(contact.id));
  expect(status).toBe(200);
  expect((await rep.call('getContact', { params: { id: contact.id } })).status).toBe(404);
  expect(await installation.services.database.rows('SELECT record_id FROM custom_value', {})).toEqual([]);
  await undo(changeId);
  expect(await wholeState(installation.services.database)).toEqual(before);
});

test('a long journal is deleted whole too', async () => {
  const contact = await aContact(rep);
  const { id } = contact;
  await installation.services.database.change(
    'INSERT INTO stirring (id, dedupe_key, at, kind, words, contact_id) VALUES :rows',
    {
      rows: Array.from({ length: 250 }, (_, n) => [
        bytesOf(randomUUID()),
        `${id}:${n}`,
        '2026-11-20 09:00:00.000',
        'opened',
        'x',
        bytesOf(id),
      ]),
    },
  );
  await installation.services.database.change(
    `INSERT INTO journal_entry (id, at, kind, counts, body, contact_id, created_at) VALUES :rows`,
    {
      rows: Array.from({ length: 450 }, () => [
        bytesOf(randomUUID()),
        '2026-11-20 09:00:00.000',
        'note',
        'none',
        'x',
        bytesOf(id),
        '2026-11-20 09:00:00.000',
      ]),
    },
  );
  expect(await remove('contact', await read(id))).toMatchObject({ status: 200 });
});

test('who has a deal is kept, with its name said; without it they go, and the deal with its tasks and stays', async () => {
  const contact = await aContact(rep);
  const deal = await aDeal(rep, contact.id, { name: 'Big softener' });
  expect(await remove('contact', await read(contact.id))).toMatchObject({
    code: 'in-use',
    detail: expect.stringContaining('Big softener') as string,
  });
  const before = await wholeState(installation.services.database);
  const gone = await remove('deal', deal);
  expect((await rep.call('getDeal', { params: { id: deal.id } })).status).toBe(404);
  await undo(gone.changeId);
  expect(await wholeState(installation.services.database)).toEqual(before);
});

test('a company leaves its people without a company; a lead leaves its person', async () => {
  const contact = await aContact(rep);
  const { company } = await rep.ok('getCompany', {
    params: { id: contact.companyId! },
  });
  const before = await wholeState(installation.services.database);
  const gone = await remove('company', company);
  expect([gone.status, (await read(contact.id)).companyName]).toEqual([200, null]);
  await undo(gone.changeId);
  expect(await wholeState(installation.services.database)).toEqual(before);
  const lead = await aLead(rep);
  const withoutLead = await remove('lead', lead);
  expect([withoutLead.status, (await read(lead.contactId)).id]).toEqual([200, lead.contactId]);
  await undo(withoutLead.changeId);
  expect((await rep.ok('getLead', { params: { id: lead.id } })).subject).toBe(lead.subject);
});

test('an agreement too; a colleague’s record and a stale one are refused', async () => {
  const contact = await aContact(rep);
  const agreement = await rep.ok('createAgreement', {
    body: {
      name: 'Yearly service',
      contactId: contact.id,
      startsOn: '2026-12-01',
      termMonths: 12,
      valueMinor: 120_000,
      noticeDays: 90,
      leadDays: 30,
      renewsItself: true,
    },
  });
  const other = await installation.as('rep');
  const version = 1;
  expect((await remove('agreement', { id: agreement.id, version }, other)).code).toBe('not-yours');
  expect((await remove('agreement', { id: agreement.id, version: 9 })).code).toBe('stale');
  expect((await remove('agreement', { id: agreement.id, version })).status).toBe(200);
  expect((await remove('agreement', { id: agreement.id, version })).code).toBe('not-found');
});

test('every reference to a record is known: what keeps it, what names it no more, what goes with it', async () => {
  const { references } = await readSchema(installation.services.database);
  const of = (parent: string, fate: string) =>
    references
      .filter((each) => each.parent === parent && fateOf(parent, `${each.table}.${each.column}`) === fate)
      .map(({ table, column }) => `${table}.${column}`)
      .sort();
  // Whoever adds a table that refers to a contact, a company or a deal decides here what becomes of it.
  expect(of('contact', 'deleted')).toEqual([
    'appointment_guest.contact_id',
    'channel_fact.contact_id',
    'contact_company.contact_id',
    'contact_count.id',
    'contact_point.contact_id',
    'contact_tag.contact_id',
    'custom_value.person_id',
    'deal_person.contact_id',
    'do_not_contact.contact_id',
    'entry_person.contact_id',
    'invitation.contact_id',
    'journal_entry.contact_id',
    'learned_minutes.contact_id',
    'not_duplicate.one_id',
    'not_duplicate.other_id',
    'offered_times.contact_id',
    'run.contact_id',
    'sales_lead.contact_id',
    'talk.contact_id',
    'task.contact_id',
  ]);
  expect(of('company', 'deleted')).toEqual([
    'company_count.id',
    'contact_company.company_id',
    'site.company_id',
    'talk.company_id',
  ]);
  expect(of('deal', 'deleted')).toEqual([
    'brief_task.deal_id',
    'deal_colleague.deal_id',
    'deal_competitor.deal_id',
    'deal_count.id',
    'deal_line.deal_id',
    'deal_mark.deal_id',
    'deal_person.deal_id',
    'prompt_tick.deal_id',
    'stage_stay.deal_id',
    'talk.deal_id',
    'task.deal_id',
  ]);
});
