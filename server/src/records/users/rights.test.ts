import { endpoints, routes, type EndpointName, type RouteSpec } from '@kettle/contract';
import { aContact, aDeal } from '../../../testing/people';
import { install, type Caller, type Installation } from '../../../testing/installation';

let installation: Installation;
let callers: Record<'rep' | 'manager' | 'admin', Caller>;
beforeAll(async () => {
  installation = await install();
  callers = {
    rep: await installation.as('rep'),
    manager: await installation.as('manager'),
    admin: await installation.as('admin'),
  };
});
afterAll(() => installation.close());

const names = Object.keys(endpoints) as EndpointName[];
const rank = { anyone: 0, rep: 1, manager: 2, admin: 3 };
// A stream never ends by itself, and signing out would end the session that the table is gone through with.
const calledElsewhere: readonly EndpointName[] = ['changes', 'signOut'];

describe('the whole table of routes', () => {
  test.each(names)('%s: nobody is let in unless the table says anyone', async (name) => {
    const { status } = await installation.nobody(name, {
      body: routes[name] && 'body' in routes[name] ? {} : undefined,
    });
    if ((routes[name] as RouteSpec).access === 'anyone') expect(status).not.toBe(401);
    else expect(status).toBe(401);
  });

  test.each(
    names
      .filter((name) => !calledElsewhere.includes(name))
      .flatMap((name) => (['rep', 'manager', 'admin'] as const).map((role) => [name, role] as const)),
  )('%s as %s: refused exactly when the role is below the table’s', async (name, role) => {
    const response = await callers[role].call(name, { body: 'body' in routes[name] ? {} : undefined });
    const isRefused = response.status === 403 && (response.body as { code: string }).code === 'not-allowed';
    expect(isRefused).toBe(rank[role] < rank[(routes[name] as RouteSpec).access]);
    expect(response.status).toBeLessThan(500);
  });
});

describe('whose record it is', () => {
  test('a rep reads a colleague’s contact and changes nothing about it; a manager may', async () => {
    const other = await installation.as('rep', 'Dara Finch');
    const contact = await aContact(other);
    const body = {
      version: contact.version,
      givenName: 'X',
      familyName: 'Y',
      jobTitle: null,
      companyName: null,
      email: null,
      phone: null,
      country: 'GB',
      zone: null,
      standingId: contact.standingId,
      checkInDays: null,
      doNotContact: [],
    };
    await callers.rep.ok('getContact', { params: { id: contact.id } });
    const refused = await callers.rep.call('changeContact', { params: { id: contact.id }, body });
    expect(refused.body).toMatchObject({
      status: 403,
      code: 'not-yours',
      detail: 'This belongs to Dara Finch. Ask Dara Finch or a manager to hand it over.',
    });
    await callers.manager.ok('changeContact', { params: { id: contact.id }, body });
  });

  test('every way to write about a colleague’s record is refused to a rep', async () => {
    const other = await installation.as('rep');
    const contact = await aContact(other);
    const deal = await aDeal(other, contact.id);
    const { tasks } = await other.ok('listTasks', {
      query: { contactId: contact.id },
    });
    const about = { contactId: contact.id };
    const id = '01938f6c-0000-7000-8000-000000000001';
    const next = { kind: 'none', reason: 'x' };
    const attempts: [EndpointName, object, Record<string, string>?][] = [
      ['log', { id, ...about, outcomeId: 'call-spoke', next }],
      ['writeNote', { id, ...about, body: 'x' }],
      ['createTask', { ...about, channel: 'call', purpose: 'x', dueOn: '2026-11-30' }],
      ['deferTask', { version: tasks[0]!.version, dueOn: '2026-11-30' }, { id: tasks[0]!.id }],
      ['dropTask', { reason: 'x' }, { id: tasks[0]!.id }],
      [
        'createDeal',
        { ...about, name: 'x', stageId: deal.stageId, amountMinor: 1, expectedCloseOn: null, next },
      ],
      [
        'changeDeal',
        {
          version: 1,
          name: 'x',
          stageId: deal.stageId,
          amountMinor: 1,
          expectedCloseOn: null,
          winProbability: null,
        },
        { id: deal.id },
      ],
      ['closeDeal', { as: 'won', version: 1, on: '2026-11-24' }, { id: deal.id }],
      [
        'createAgreement',
        {
          ...about,
          name: 'x',
          startsOn: '2026-11-24',
          termMonths: 12,
          valueMinor: 1,
          noticeDays: 1,
          leadDays: 1,
          renewsItself: true,
        },
      ],
    ];
    for (const [name, body, params] of attempts) {
      const response = await callers.rep.call(name, { body, ...(params ? { params } : {}) });
      expect([name, response.status, (response.body as { code: string }).code]).toEqual([
        name,
        403,
        'not-yours',
      ]);
    }
  });

  test('a rep’s day is their own; a manager may look at it', async () => {
    const query = { owner: callers.manager.id };
    expect((await callers.rep.call('round', { query })).status).toBe(403);
    expect((await callers.rep.call('spine', { query })).status).toBe(403);
    await callers.manager.ok('round', { query: { owner: callers.rep.id } });
  });

  test('another person’s import is not there', async () => {
    const file = { fileName: 'a.csv', contentBase64: Buffer.from('name\nAda').toString('base64') };
    const { id } = await callers.admin.ok('uploadImport', { body: file });
    expect((await callers.rep.call('getImport', { params: { id } })).body).toMatchObject({
      code: 'not-found',
      status: 404,
    });
  });
});
