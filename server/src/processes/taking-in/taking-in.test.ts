import type { Contact, TakeMailIn } from '@kettle/contract';
import { v4 } from 'uuid';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, journalOf, stagesOf } from '../../../testing/people';
import { storeArrival } from '../mail/index';

let installation: Installation;
let rep: Caller;
beforeEach(async () => {
  installation = await install();
  rep = await installation.as('rep');
});
afterEach(() => installation.close());

const signed = [
  'Please ring me about a softener.',
  '',
  'Kind regards,',
  'Maud Penrow',
  'Head Baker',
  'Penrow Bakery Ltd',
  '14 Mill Lane, Marrowdale MD4 2QP',
  'T: 01632 960101',
  'M: 07700 900101',
  'www.penrow.example',
];

async function arrives(lines: readonly string[] = signed, from = 'Maud Penrow <maud@penrow.example>') {
  const head = [
    `Authentication-Results: mx.kettle.test; dmarc=pass header.from=${from.split('@')[1]!.replace('>', '')}`,
    `From: ${from}`,
    `Message-ID: <${v4()}@penrow.example>`,
    'Subject: A softener',
    '',
  ];
  await storeArrival(installation.services, {
    content: Buffer.from([...head, ...lines].join('\r\n')),
    envelopeFrom: 'them@penrow.example',
  });
  await installation.work();
  return (await rep.ok('listMail', { query: { sort: '-at' } })).rows[0]!;
}

const writerOf = async (id: string) => rep.ok('getMailWriter', { params: { id } });
const place = { street: '14 Mill Lane', postcode: 'MD4 2QP', city: 'Marrowdale', website: null };
const maud = {
  givenName: 'Maud',
  familyName: 'Penrow',
  companyName: 'Penrow Bakery Ltd',
  email: 'maud@penrow.example',
  jobTitle: 'Head Baker',
};
const callOn = (dueOn: string, ownerId: string | null = null) => ({
  channel: 'call' as const,
  purpose: 'Ring about the softener',
  dueOn,
  ownerId,
});
type Body = Partial<TakeMailIn> & { readonly as: TakeMailIn['as'] };
const takeIn = (id: string, body: Body | object, changeId = v4()) =>
  rep.call('takeMailIn', {
    params: { id },
    body: { person: maud, place, task: null, ...body } as never,
    changeId,
  });
const everybody = async () => (await rep.ok('listContacts', {})).rows.length;
const today = () => installation.clock.now().slice(0, 10);

test('what a signature says is proposed, with the company of the domain and whom it may be', async () => {
  const noor = await aContact(rep, {
    companyName: 'Penrow Bakery',
    email: 'noor@penrow.example',
    phone: null,
  });
  const writer = await writerOf((await arrives()).id);
  expect(writer).toMatchObject({
    givenName: 'Maud',
    familyName: 'Penrow',
    jobTitle: 'Head Baker',
    phone: '+441632960101',
    otherPoints: [{ kind: 'phone', label: 'mobile', value: '+447700900101' }],
    companyName: 'Penrow Bakery Ltd',
    street: '14 Mill Lane',
    postcode: 'MD4 2QP',
    city: 'Marrowdale',
    website: 'www.penrow.example',
    companies: [{ id: noor.companyId, why: 'others write from penrow.example' }],
    like: [],
    differs: [],
  });
});

describe('somebody new of a mail', () => {
  test('alone: with their firm, its place, and the mail in their journal', async () => {
    const mail = await arrives();
    const { body } = await takeIn(mail.id, { as: 'person', version: mail.version });
    const { contactId } = body as { contactId: string };
    const contact = await rep.ok('getContact', { params: { id: contactId } });
    expect(contact).toMatchObject({ jobTitle: 'Head Baker', companyName: 'Penrow Bakery Ltd' });
    const { company } = await rep.ok('getCompany', { params: { id: contact.companyId! } });
    expect(company.sites[0]).toMatchObject({
      street: '14 Mill Lane',
      postcode: 'MD4 2QP',
      city: 'Marrowdale',
    });
    expect((await journalOf(rep, { contactId })).some(({ direction }) => direction === 'in')).toBe(true);
    expect(await rep.ok('getMail', { params: { id: mail.id } })).toMatchObject({ state: 'filed', contactId });
  });

  test('with firm and deal and a task for a colleague, who hears of it; one undo takes all of it back', async () => {
    const mail = await arrives();
    const manager = await installation.as('manager');
    const [stage] = await stagesOf(rep);
    const changeId = v4();
    const deal = { name: 'Softener', stageId: stage!.id, amountMinor: 240_000, expectedCloseOn: null };
    const { body } = await takeIn(
      mail.id,
      { as: 'deal', version: mail.version, deal, task: callOn(today(), manager.id) },
      changeId,
    );
    const { contactId, dealId } = body as { contactId: string; dealId: string };
    const [task] = (await rep.ok('listTasks', { query: { contactId } })).tasks;
    expect(task).toMatchObject({ dealId, ownerId: manager.id, purpose: 'Ring about the softener' });
    const { notifications } = await manager.ok('listNotifications', {});
    expect(notifications.some(({ words }) => words.includes('gave you a task'))).toBe(true);
    expect((await rep.ok('getMail', { params: { id: mail.id } })).dealId).toBe(dealId);
    await rep.ok('undoChange', { params: { id: changeId } });
    expect((await rep.call('getContact', { params: { id: contactId } })).status).toBe(404);
    expect((await rep.call('getDeal', { params: { id: dealId } })).status).toBe(404);
    expect(await rep.ok('getMail', { params: { id: mail.id } })).toMatchObject({
      state: 'unfiled',
      contactId: null,
    });
  });

  test('with a lead, which keeps the firm as they say it', async () => {
    const mail = await arrives();
    const { body } = await takeIn(mail.id, { as: 'lead', version: mail.version, subject: 'A softener' });
    const { contactId, leadId } = body as { contactId: string; leadId: string };
    expect(await rep.ok('getLead', { params: { id: leadId } })).toMatchObject({
      contactId,
      subject: 'A softener',
      companyName: 'Penrow Bakery Ltd',
      source: 'e-mail',
    });
  });

  test('what is refused leaves nothing behind: a day that is over, a mail that was filed meanwhile', async () => {
    const mail = await arrives();
    const before = await everybody();
    const late = await takeIn(mail.id, { as: 'person', version: mail.version, task: callOn('2026-01-05') });
    expect(late.body).toMatchObject({ code: 'in-the-past' });
    expect(await everybody()).toBe(before);
    const taken = await takeIn(mail.id, { as: 'person', version: mail.version });
    expect(taken.body).toMatchObject({ dealId: null });
    const again = await takeIn(mail.id, { as: 'person', version: mail.version });
    expect(again.body).toMatchObject({ code: 'stale' });
    expect(await everybody()).toBe(before + 1);
  });
});

describe('somebody known who signs otherwise', () => {
  let known: Contact;
  beforeEach(async () => {
    known = await aContact(rep, { ...maud, jobTitle: 'Baker', phone: '01632 960101' });
  });

  test('is shown field by field, and taken over in one change', async () => {
    const mail = await arrives();
    const { differs } = await writerOf(mail.id);
    expect(differs).toEqual([
      { field: 'jobTitle', label: null, now: 'Baker', said: 'Head Baker' },
      { field: 'phone', label: 'mobile', now: null, said: '+447700900101' },
    ]);
    const contact = await rep.ok('getContact', { params: { id: known.id } });
    const changeId = v4();
    const body = { contactVersion: contact.version, take: differs };
    await rep.call('takeFromMail', { params: { id: mail.id }, body, changeId });
    const after = await rep.ok('getContact', { params: { id: known.id } });
    expect([after.jobTitle, after.otherPoints]).toEqual([
      'Head Baker',
      [{ kind: 'phone', label: 'mobile', value: '+447700900101' }],
    ]);
    expect((await writerOf(mail.id)).differs).toEqual([]);
    expect((await rep.call('takeFromMail', { params: { id: mail.id }, body })).body).toMatchObject({
      code: 'stale',
    });
    await rep.ok('undoChange', { params: { id: changeId } });
    expect(await rep.ok('getContact', { params: { id: known.id } })).toMatchObject({
      jobTitle: 'Baker',
      otherPoints: [],
    });
  });

  test('a colleague who may not change them may not take over', async () => {
    const mail = await arrives();
    const other = await installation.as('rep');
    const contact = await rep.ok('getContact', { params: { id: known.id } });
    const body = { contactVersion: contact.version, take: (await writerOf(mail.id)).differs };
    expect((await other.call('takeFromMail', { params: { id: mail.id }, body })).status).toBe(403);
  });
});
