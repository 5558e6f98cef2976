import { randomUUID } from 'node:crypto';
import { install, type Caller, type Installation } from '../testing/installation';
import { aContact, aDeal, aLead, aLog, changeOf, stagesOf, standingNamed } from '../testing/people';

let installation: Installation;
let rep: Caller;
let other: Caller;
beforeAll(async () => {
  installation = await install();
  rep = await installation.as('rep', 'Imogen Thorne');
  other = await installation.as('rep', 'Aled Pike');
});
afterAll(() => installation.close());

interface Said {
  kind: string;
  topic: string;
  recordId: string;
  by: string | null;
  cause: string;
  owners: string[];
  data: { from?: string; to?: string; channel?: string; subjects?: string[] };
}

/** Events of a meaning of their own that a call caused, in order. */
async function saidBy(...[name, call]: Parameters<Caller['call']>): Promise<Said[]> {
  const changeId = randomUUID();
  const { status, body } = await rep.call(name, { ...call, changeId });
  expect([name, status, body.detail]).toEqual([name, 200, undefined]);
  return saidIn(changeId);
}

async function saidIn(setId: string): Promise<Said[]> {
  const rows = await installation.services.database.rows<Record<string, string>>(
    `SELECT kind, topic, LOWER(HEX(record_id)) AS record, LOWER(HEX(user_id)) AS user, cause, owners, data FROM event
      WHERE set_id = UNHEX(:set) AND kind NOT IN ('noted', 'created', 'changed', 'removed') ORDER BY id`,
    { set: setId.replaceAll('-', '') },
  );
  const dashed = (hex: string) => hex.replace(/^(.{8})(.{4})(.{4})(.{4})(.{12})$/, '$1-$2-$3-$4-$5');
  return rows.map((row) => ({
    kind: row.kind!,
    topic: row.topic!,
    recordId: dashed(row.record!),
    by: row.user === null ? null : dashed(row.user!),
    cause: row.cause!,
    owners: JSON.parse(row.owners!) as string[],
    data: JSON.parse(row.data!) as Said['data'],
  }));
}

const kinds = (said: readonly Said[]) => said.map(({ kind }) => kind).sort();
const readDeal = (id: string) => rep.ok('getDeal', { params: { id } });
const readContact = (id: string) => rep.ok('getContact', { params: { id } });

test('a log says who touched whom, how, and that the task is finished', async () => {
  const contact = await aContact(rep);
  const deal = await aDeal(rep, contact.id);
  const { tasks } = await rep.ok('listTasks', { query: { dealId: deal.id } });
  const said = await saidBy('log', {
    body: {
      id: randomUUID(),
      contactId: contact.id,
      dealId: deal.id,
      outcomeId: 'call-no-answer',
      taskId: tasks[0]!.id,
      next: { kind: 'none', reason: 'enough' },
    },
  });
  expect(said).toEqual(
    expect.arrayContaining([
      expect.objectContaining({ kind: 'touch-logged', topic: 'journal', by: rep.id, cause: 'log' }),
      expect.objectContaining({ kind: 'task-finished', recordId: tasks[0]!.id, owners: [rep.id] }),
    ]),
  );
  const touch = said.find(({ kind }) => kind === 'touch-logged')!;
  expect(touch.data.channel).toBe('call');
  expect(new Set(touch.data.subjects)).toEqual(new Set([contact.id, contact.companyId, deal.id]));
});

test('a deal says that it moved, closed and was opened again, from what to what', async () => {
  const deal = await aDeal(rep, (await aContact(rep)).id);
  const [first, second] = await stagesOf(rep);
  const params = { id: deal.id };
  expect(
    await saidBy('moveDeal', {
      params,
      body: { version: deal.version, stageId: second!.id, expectedCloseOn: deal.expectedCloseOn },
    }),
  ).toEqual([
    expect.objectContaining({
      kind: 'deal-moved',
      topic: 'deal',
      recordId: deal.id,
      owners: [rep.id],
      data: expect.objectContaining({ from: first!.id, to: second!.id }) as unknown,
    }),
  ]);
  const closing = await saidBy('closeDeal', {
    params,
    body: {
      as: 'lost',
      version: (await readDeal(deal.id)).version,
      on: '2026-11-24',
      reason: 'price',
      lostTo: null,
    },
  });
  expect(kinds(closing)).toEqual(['deal-closed', 'task-dropped']);
  expect(closing.find(({ kind }) => kind === 'deal-closed')!.data).toMatchObject({
    from: 'open',
    to: 'lost',
  });
  const next = { kind: 'task', channel: 'call', dueOn: '2026-11-26', purpose: 'ask', minutes: 6 };
  const again = await saidBy('reopenDeal', { params, body: { next } });
  expect(kinds(again)).toEqual(['deal-reopened']);
});

test('a new owner and another standing are told to both owners, with from and to', async () => {
  const contact = await aContact(rep);
  const customer = await standingNamed(rep, 'Customer');
  const said = await saidBy('changeContact', {
    params: { id: contact.id },
    body: changeOf(contact, { standingId: customer.id }),
  });
  expect(said).toEqual([
    expect.objectContaining({
      kind: 'standing-changed',
      recordId: contact.id,
      data: expect.objectContaining({ from: contact.standingId, to: customer.id }) as unknown,
    }),
  ]);
  const now = await readContact(contact.id);
  const given = await saidBy('changeCell', {
    params: { id: contact.id },
    body: { version: now.version, field: 'ownerId', value: other.id },
  });
  expect(given.find(({ kind }) => kind === 'owner-changed')).toMatchObject({
    data: { from: rep.id, to: other.id },
  });
  expect(new Set(given[0]!.owners)).toEqual(new Set([rep.id, other.id]));
});

test('a lead and an agreement are told when they are made', async () => {
  const contact = await aContact(rep);
  expect(
    kinds(
      await saidBy('createLead', { body: { subject: 'a softener', contactId: contact.id, ownerId: rep.id } }),
    ),
  ).toEqual(['lead-added']);
  expect(
    kinds(
      await saidBy('createAgreement', {
        body: {
          contactId: contact.id,
          name: 'Service',
          valueMinor: 120_000,
          startsOn: '2026-11-24',
          termMonths: 12,
          noticeDays: 30,
          leadDays: 60,
          renewsItself: true,
        },
      }),
    ),
  ).toEqual(['agreement-made']);
});

test('an undo says that it was undone, and nothing of a second act', async () => {
  const lead = await aLead(rep);
  const logged = randomUUID();
  await rep.call('log', {
    changeId: logged,
    body: {
      id: randomUUID(),
      contactId: lead.contactId,
      outcomeId: 'call-no-answer',
      next: { kind: 'none', reason: 'enough' },
    },
  });
  expect(kinds(await saidIn(logged))).toEqual(['touch-logged']);
  expect(kinds(await saidBy('undoChange', { params: { id: logged } }))).toEqual(['undone']);
  expect((await rep.ok('getLead', { params: { id: lead.id } })).status).toBe('untried');
});

test('every event of a record names what it is about', async () => {
  const contact = await aContact(rep);
  await aLog(rep, contact.id);
  const rows = await installation.services.database.rows<{ data: string }>(
    `SELECT data FROM event WHERE topic = 'journal' AND kind = 'created' AND JSON_VALUE(data, '$.subjects[0]') = :id`,
    { id: contact.id },
  );
  expect(rows.length).toBeGreaterThan(0);
});
