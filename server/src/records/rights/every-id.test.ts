import { endpoints, routes, type EndpointName, type RouteSpec } from '@kettle/contract';
import { idFieldsOf } from '@kettle/contract/base/ids-in';
import type { Response } from 'supertest';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aDeal, aLead, aLog } from '../../../testing/people';
import { sampleOf } from '../../../testing/sample';
import { bytesOf, newId } from '../../platform/ids';
import { namedIn } from './check-request';
import { ownedTables, type Owned } from './reach-sql';

let installation: Installation;
let me: Caller;
let colleague: Caller;
let manager: Caller;
let admin: Caller;
let mine = {} as Record<Owned, string>;
/** Cadences, stages and the like, which are nobody's. */
const organisation: Record<string, string> = {};
let theirs = {} as Record<Owned, string>;

beforeAll(async () => {
  installation = await install();
  admin = await installation.as('admin');
  manager = await installation.as('manager');
  me = await installation.as('rep');
  colleague = await installation.as('rep', 'Dara Finch');
  mine = await recordsOf(me);
  const { pipelines } = await admin.ok('listPipelines');
  Object.assign(organisation, { pipeline: pipelines[0]!.id, stage: pipelines[0]!.stages[0]!.id });
  theirs = await recordsOf(colleague);
}, 60_000);
afterAll(() => installation.close());

/** One record of every kind that belongs to somebody. */
async function recordsOf(caller: Caller): Promise<Record<Owned, string>> {
  const { database, clock } = installation.services;
  const contact = await aContact(caller);
  const deal = await aDeal(caller, contact.id);
  const lead = await aLead(caller);
  const { tasks } = await caller.ok('listTasks', { query: { contactId: contact.id } });
  const { entryId } = await aLog(caller, contact.id);
  const agreement = await caller.ok('createAgreement', {
    body: {
      ...{ contactId: contact.id, name: 'Salt', startsOn: '2026-11-24', termMonths: 12, valueMinor: 100 },
      ...{ noticeDays: 10, leadDays: 10, renewsItself: true },
    },
  });
  const { id: cadenceId, ...cadence } = await caller.ok('createCadence', {
    body: { name: `First contact ${caller.id}`, definition: { steps: [step] } },
  });
  Object.assign(organisation, { cadence: cadenceId, cadenceVersion: cadence.versionId });
  const second = await aContact(caller);
  await caller.ok('startRuns', {
    params: { id: cadenceId },
    body: {
      ...{ requestId: newId(), versionId: cadence.versionId, contactIds: [second.id] },
    },
  });
  const { runs } = await caller.ok('listRuns', { query: { contactId: second.id } });
  const file = await caller.upload({ contactId: contact.id, name: 'offer.txt' }, Buffer.from('x'));
  const { id: appointment } = await caller.ok('planAppointment', {
    body: { title: 'Survey', startsAt: '2026-11-25T10:00:00.000Z', minutes: 60, contactId: contact.id },
  });
  const view = await caller.ok('saveView', {
    body: { place: 'people', name: `mine ${caller.id}`, query: '', isShared: false },
  });
  const imported = await caller.ok('uploadImport', {
    body: { fileName: 'a.csv', contentBase64: Buffer.from('name\nAda').toString('base64') },
  });
  const bulk = newId<string>();
  await caller.ok('startBulk', {
    body: { id: bulk, selection: { ids: [contact.id] }, act: { kind: 'add-tag', tag: 'spa' } },
  });
  await installation.work();
  const [mail, text, phoneCall, stirring] = [
    newId<string>(),
    newId<string>(),
    newId<string>(),
    newId<string>(),
  ];
  const about = { user: bytesOf(caller.id), contact: bytesOf(contact.id), at: clock.now().slice(0, 23) };
  const insert = (sql: string, id: string) => database.change(sql, { ...about, id: bytesOf(id) });
  await insert(
    `INSERT INTO mail (id, direction, state, message_id, thread_id, reference_ids, from_name, from_address, to_address, subject, text, links,
        user_id, contact_id, at) VALUES (:id, 'in', 'filed', HEX(:id), :id, '', '', 'a@b.example', 'c@d.example', 's', 't', '[]',
        :user, :contact, :at)`,
    mail,
  );
  await insert(
    `INSERT INTO text_message (id, direction, state, number, body, user_id, contact_id, at)
     VALUES (:id, 'in', 'filed', '+441632960123', 't', :user, :contact, :at)`,
    text,
  );
  await insert(
    `INSERT INTO phone_call (id, state, number, user_id, contact_id, started_at)
     VALUES (:id, 'ended', '+441632960123', :user, :contact, :at)`,
    phoneCall,
  );
  await insert(
    `INSERT INTO stirring (id, dedupe_key, at, kind, words, user_id, contact_id)
     VALUES (:id, HEX(:id), :at, 'reply', 'wrote', :user, :contact)`,
    stirring,
  );
  const invoice = await caller.ok('createInvoice', {
    body: { dealId: deal.id, issuedOn: '2026-11-24', dueOn: '2026-12-24' },
  });
  const quote = await caller.ok('createQuote', { body: { dealId: deal.id } });
  return {
    ...{ contact: contact.id, company: contact.companyId!, deal: deal.id, lead: lead.id, task: tasks[0]!.id },
    ...{
      agreement: agreement.id,
      entry: entryId,
      run: runs[0]!.id,
      mail,
      text,
      phoneCall,
      stirring,
      appointment,
    },
    ...{
      file: (file.body as { id: string }).id,
      view: view.id,
      import: imported.id,
      bulk,
      quote: quote.id,
      invoice: invoice.id,
    },
  };
}

const step = {
  channel: 'call',
  offsetDays: 2,
  purpose: 'call',
  minutes: 5,
  windowStart: 540,
  windowEnd: 1020,
};

interface Place {
  readonly name: EndpointName;
  readonly part: 'params' | 'query' | 'body';
  readonly path: string;
  readonly kind: Owned;
}

const names = Object.keys(endpoints) as EndpointName[];
const specOf = (name: EndpointName) => ({
  ...(routes[name] as RouteSpec),
  changes: !endpoints[name].startsWith('GET'),
});

/** Every place of the contract where the id of somebody's record stands. */
const places: readonly Place[] = names.flatMap((name) =>
  (['params', 'query', 'body'] as const).flatMap((part) => {
    const schema = specOf(name)[part];
    return schema === undefined
      ? []
      : idFieldsOf(schema)
          .filter(({ kind }) => kind in ownedTables)
          .map(({ path, kind }) => ({ name, part, path, kind: kind as Owned }));
  }),
);

/** Requests that a sample made from their schemas alone does not pass: fields that belong together. */
const more: Partial<Record<EndpointName, (sample: object) => object>> = {
  getDossier: () => ({ parts: 'record' }),
  walkItem: (sample) => ('contactId' in sample ? {} : { contactId: mine.contact }),
  planExample: () => ({ definition: { steps: [step] } }),
  planAppointment: () => ({ startsAt: '2026-11-25T10:00:00.000Z', minutes: 60 }),
  appointmentWarnings: () => ({ startsAt: '2026-11-25T10:00:00.000Z', minutes: 60 }),
  freeTimes: () => ({ from: '2026-11-25', minutes: 60 }),
  callOffAppointment: () => ({ instead: { kind: 'none' }, reason: 'ill' }),
  writeNote: (sample) =>
    'contactId' in sample || 'companyId' in sample || 'dealId' in sample ? {} : { contactId: mine.contact },
};

const nowhere = { path: '~', kind: '~', id: '~' };

/** Only their maker knows them, whatever the policy. */
const alwaysOwn = new Set<Owned>(['view', 'import', 'bulk', 'phoneCall']);

/** The smallest request that names somebody's record in one place, and one's own everywhere else. */
function requestFor({ name, part, path, kind }: Place, id = theirs[kind]) {
  const spec = specOf(name);
  const of = (other: string) =>
    (mine as Record<string, string>)[other] ?? organisation[other] ?? newId<string>();
  const sample = (each: 'params' | 'query' | 'body') => {
    const schema = spec[each];
    if (schema === undefined) return undefined;
    const made = sampleOf(schema, { of, at: each === part ? { path, kind, id } : nowhere });
    return each === 'params' ? made : { ...(made as object), ...more[name]?.(made as object) };
  };
  return { params: sample('params'), query: sample('query'), body: sample('body') } as Parameters<
    Caller['call']
  >[1] & { body?: object; query?: object; params?: Record<string, string> };
}

const useOf = ({ name, part, path, kind }: Place) => {
  const id = newId<string>();
  const request = requestFor({ name, part, path, kind }, id);
  const asked = { params: request.params, query: request.query, body: request.body };
  return namedIn(specOf(name), asked).find((each) => each.id === id)?.use;
};

async function setReading(reading: 'all' | 'team' | 'own'): Promise<void> {
  const now = await admin.ok('rightsSettings');
  await admin.ok('changeRightsSettings', { body: { ...now, reading } });
}

const codeOf = (response: Response) => (response.body as { code?: string }).code;
const all = places.map(
  (place) => [`${place.name} ${place.part}.${place.path} (${place.kind})`, place] as const,
);

const ofReps = all.filter(([, { name }]) => specOf(name).access === 'rep');

test('there are many places, in most of the routes that take anything', () => {
  expect(places.length).toBeGreaterThan(90);
});

describe('a colleague’s record, in every place of the contract', () => {
  test.each(all)('%s: a sample request passes the contract', (_, place) => {
    const spec = specOf(place.name);
    const request = requestFor(place);
    for (const part of ['params', 'query', 'body'] as const) {
      const parsed = spec[part]?.safeParse(request[part] ?? {});
      expect(parsed?.error?.issues ?? []).toEqual([]);
    }
  });

  test.each(ofReps.filter(([, place]) => useOf(place) === 'changes'))(
    '%s: a rep may not write onto it',
    async (_, place) => {
      await setReading('all');
      const response = await me.call(place.name, requestFor(place));
      expect([response.status, codeOf(response)]).toEqual(
        alwaysOwn.has(place.kind) ? [404, 'not-found'] : [403, 'not-yours'],
      );
    },
  );

  test.each(ofReps)('%s: is not there for a rep who reads only their own', async (_, place) => {
    await setReading('own');
    const response = await me.call(place.name, requestFor(place));
    expect([response.status, codeOf(response)]).toEqual([404, 'not-found']);
  });

  test.each(ofReps.filter(([, place]) => useOf(place) === 'reads' && !alwaysOwn.has(place.kind)))(
    '%s: may be named by a rep who reads all',
    async (_, place) => {
      await setReading('all');
      const response = await me.call(place.name, requestFor(place));
      expect(codeOf(response)).not.toBe('not-found');
      expect(response.status).toBeLessThan(500);
    },
  );
});

describe('an id of nothing, in every place of the contract', () => {
  test.each(all)('%s: is refused or left out, never a fault', async (_, place) => {
    await setReading('all');
    const response = await me.call(place.name, requestFor(place, newId<string>()));
    expect(response.status).toBeLessThan(500);
  });
});

test('a manager who leads nobody else’s people writes onto what a rep has whom nobody leads', async () => {
  await setReading('own');
  const { status } = await manager.call('getContact', { params: { id: theirs.contact } });
  expect(status).toBe(200);
});
