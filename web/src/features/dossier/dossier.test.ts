import type { HttpParams } from '@angular/common/http';
import { TestBed } from '@angular/core/testing';
import { aDealRow, aWholeDeal } from '../../../testing/deals';
import { isUnavailable, aRow, showPart, type Part } from '../../../testing/part';
import type { ChangeTopic } from '@kettle/contract';
import { Subject } from 'rxjs';
import { ChangeStream } from '../../services/change-stream';
import { Dossier } from './dossier';

/** A contact as the dossier reads one. */
const aContact = (part: object = {}) => ({
  ...(aRow() as object),
  id: 'greta',
  name: 'Greta Holm',
  companyId: 'linde',
  companyName: 'Hotel Linde',
  doNotContact: [],
  attempts: [],
  answers: [],
  otherPoints: [],
  otherCompanies: [],
  about: '',
  ...part,
});
const anAgreement = (part: object = {}) => ({
  ...{ id: 'a1', name: 'Yearly service', valueMinor: 48_000, termMonths: 12 },
  ...{ startsOn: '2026-12-01', noticeDeadlineOn: '2027-10-01', ...part },
});
const said = (root: Element) => root.textContent.replace(/\s+/g, ' ');

interface World {
  readonly contact?: object;
  readonly deal?: object;
  readonly firmDeals?: readonly object[];
  readonly ownDeals?: readonly object[];
  readonly agreements?: readonly object[];
  readonly tasks?: readonly object[];
}

/** Answers everything a dossier asks for, in whatever order it asks; tells what agreements were asked by. */
async function answerAll(part: Part<Dossier>, world: World, agreementsBy: string[] = []): Promise<string[]> {
  const contact = aContact(world.contact);
  const deal = aWholeDeal({ contactId: 'greta', companyId: 'linde', ownerId: 'me', ...world.deal });
  const dealIds = [...(world.firmDeals ?? []), ...(world.ownDeals ?? [])].map(
    (each) => (each as { id: string }).id,
  );
  const replies: Readonly<Record<string, (of: HttpParams) => object | null>> = {
    '/api/dossier': (of) => ({
      record: {
        ...{ lead: null, contact: of.has('companyId') ? null : contact },
        deal: of.has('dealId') ? deal : null,
        company: of.has('companyId') ? { id: 'linde', name: 'Hotel Linde' } : null,
        counts: {
          ...{ people: 0, runs: 0 },
          deals: new Set(dealIds).size,
          agreements: (world.agreements ?? []).length,
        },
      },
      steps: world.tasks ?? [],
      journal: { entries: [], before: null },
    }),
    '/api/companies/linde': () => ({
      company: { id: 'linde', name: 'Hotel Linde' },
      people: [],
      deals: world.firmDeals ?? [],
    }),
    '/api/deals/page': () => ({ rows: world.ownDeals ?? [] }),
    '/api/runs': () => ({ runs: [] }),
    '/api/agreements': () => ({ rows: world.agreements ?? [] }),
    '/api/leads': () => ({ rows: [] }),
  };
  for (let round = 0; round < 6; round += 1) {
    for (const request of part.server.match((each) => each.url in replies && each.method === 'GET')) {
      const { params, url } = request.request;
      if (url === '/api/agreements')
        agreementsBy.push(params.get('companyId') ?? params.get('contactId') ?? 'all');
      request.flush(replies[url]!(params));
    }
    await part.settle();
  }
  return agreementsBy;
}

async function show(record: { kind: string; id: string }, world: World = {}) {
  const part = await showPart(Dossier, { inputs: { record } });
  const agreementsBy = await answerAll(part, world);
  const tab = async (name: RegExp) => {
    const found = [...part.root.querySelectorAll<HTMLElement>('[role=tab]')].find((each) =>
      name.test(each.textContent),
    );
    await part.click(found!);
    await answerAll(part, world, agreementsBy);
  };
  return { ...part, agreementsBy, tab };
}
const person = { kind: 'contact', id: 'greta' };

describe('a person', () => {
  test('of a firm has its deals and agreements, and theirs elsewhere, each once', async () => {
    const shared = aDealRow({ id: 'x', name: 'For the spa' });
    const part = await show(person, {
      firmDeals: [shared, aDealRow({ id: 'y', name: 'For the kitchen' })],
      ownDeals: [shared, aDealRow({ id: 'z', name: 'As adviser elsewhere' })],
      agreements: [anAgreement()],
    });
    expect(part.agreementsBy).toEqual([]);
    await part.tab(/^\s*Agreements 1/);
    expect(part.agreementsBy).toEqual(['linde']);
    await part.tab(/^\s*Deals 3/);
    for (const name of ['For the spa', 'For the kitchen', 'As adviser elsewhere'])
      expect(said(part.root).split(name)).toHaveLength(2);
  });

  test('who buys for themselves has deals and agreements of their own', async () => {
    const part = await show(person, {
      contact: { companyId: null, companyName: null },
      ownDeals: [aDealRow({ id: 'x', name: 'Softener at home' })],
      agreements: [anAgreement({ name: 'Service at home' })],
    });
    await part.tab(/^\s*Agreements 1/);
    expect(part.agreementsBy).toEqual(['greta']);
    expect(said(part.root)).toContain('Service at home');
    expect(part.button('New agreement')).toBeDefined();
    await part.tab(/^\s*Deals 1/);
    expect(said(part.root)).toContain('Softener at home');
  });

  test('shows tries beside the buttons, what was answered, and whom not to contact how', async () => {
    const part = await show(person, {
      contact: {
        attempts: [{ channel: 'call', tries: 4 }],
        answers: [{ channel: 'email', tried: 5, answered: 2 }],
        doNotContact: [{ channel: 'text', since: '2026-10-01T09:00:00.000Z', origin: 'asked by text' }],
      },
    });
    expect(said(part.button(/Call/))).toContain('4×');
    expect(said(part.button(/Write/))).toContain('✓');
    expect(isUnavailable(part.button(/Text/))).toBe(true);
    expect(said(part.root)).toContain('no text since');
    expect(said(part.root)).toContain('E-mails answered: 2 of 5');
  });

  test('without a next step says so, and offers one', async () => {
    const part = await show(person);
    expect(said(part.root)).toContain('None planned.');
    expect(part.button('plan one')).toBeDefined();
  });

  test.each([
    ['open', true],
    ['won', false],
    ['lost', false],
  ] as const)('a deal that is %s lacks a next step: %s', async (status, isLacking) => {
    const part = await show({ kind: 'deal', id: 'd' }, { deal: { id: 'd', status } });
    const words = [...part.root.querySelectorAll('span')].find((each) => said(each) === 'None planned.');
    expect(words?.classList.contains('now')).toBe(isLacking);
  });
});

describe('what is read', () => {
  const asked = (part: Part<Dossier>) =>
    part.server
      .match(({ url }) => !/standings|colleagues|custom-fields/.test(url))
      .map(({ request: { url, params } }) => `${url} ${params.get('parts') ?? ''}`.trim());

  test('first is one request; what is behind a tab when it is opened, and again only once it was', async () => {
    const changes = new Subject<ReadonlySet<ChangeTopic>>();
    jest.spyOn(ChangeStream.prototype, 'about').mockReturnValue(changes);
    const part = await showPart(Dossier, { inputs: { record: person } });
    expect(asked(part)).toEqual(['/api/dossier record,steps,journal']);
    part.fixture.componentRef.setInput('record', { ...person });
    await answerAll(part, { firmDeals: [aDealRow({ id: 'x', name: 'For the spa' })] });
    const after = async (...topics: ChangeTopic[]) => {
      changes.next(new Set(topics));
      await part.settle();
      return asked(part);
    };
    expect(await after('task')).toEqual(['/api/dossier record,steps']);
    // The task's is not answered yet: what it was for is asked for again.
    expect(await after('deal')).toEqual(['/api/dossier record,steps,journal']);
    await answerAll(part, {});
  });

  test('behind a tab that cannot be read says so, and is asked for again', async () => {
    const part = await showPart(Dossier, { inputs: { record: person } });
    await answerAll(part, {});
    const tabs = [...part.root.querySelectorAll<HTMLElement>('[role=tab]')];
    await part.click(tabs.find((each) => each.textContent.includes('Agreements'))!);
    await part.refuse('/api/agreements', {
      status: 500,
      code: 'failed',
      detail: 'Too many at once just now.',
    });
    expect(said(part.root)).toContain('Too many at once just now.');
    await part.click(part.button(/again/i));
    await answerAll(part, { agreements: [anAgreement()] });
    expect(said(part.root)).toContain('Yearly service');
    expect(said(part.root)).not.toContain('Too many at once');
  });

  test('what a refused reading was for is asked for with the next one', async () => {
    const changes = new Subject<ReadonlySet<ChangeTopic>>();
    jest.spyOn(ChangeStream.prototype, 'about').mockReturnValue(changes);
    const part = await showPart(Dossier, { inputs: { record: person } });
    await answerAll(part, {});
    changes.next(new Set<ChangeTopic>(['journal']));
    await part.refuse('/api/dossier', { status: 503, code: 'busy', detail: 'In a moment.' });
    expect(said(part.root)).toContain('Greta Holm');
    changes.next(new Set<ChangeTopic>(['task']));
    expect(asked(part)).toEqual(['/api/dossier record,journal,steps']);
  });
});

describe('a deal', () => {
  const deal = { kind: 'deal', id: 'd1' };

  test('that is open can be changed, moved and closed', async () => {
    const part = await show(deal, { deal: { tetherState: 'late', stalledDays: 6 } });
    for (const name of ['Change', 'Move', 'Won', 'Lost', 'Park']) expect(part.button(name)).toBeDefined();
    expect(said(part.root)).toContain('£12,000 · 10 %');
    expect(said(part.root)).toContain('Imogen Thorne · closes Thu 10 Dec');
    expect(said(part.root)).toContain('stalled 6 days');
  });

  test.each([
    ['lost', { closeReason: 'price' }, 'lost: price'],
    ['parked', { wakeOn: '2027-03-01', closeReason: 'next year' }, 'parked until Mon 1 Mar 2027: next year'],
    ['won', { closeReason: null }, 'won'],
  ])('that is %s says why, and can only be opened again', async (status, part, words) => {
    const shown = await show(deal, { deal: { status, ...part } });
    expect(said(shown.root)).toContain(words);
    expect(shown.button('Reopen')).toBeDefined();
    expect(() => shown.button('Won')).toThrow('no button');
  });

  test('names people by their role, its lines, its parent and what it came from', async () => {
    const line = { id: 'l', productId: null, name: 'Softener', quantity: 2, priceMinor: 100_000 };
    const part = await show(deal, {
      deal: {
        people: [{ contactId: 'otto', name: 'Otto Sign', role: 'signs' }],
        lines: [{ ...line, discountPercent: 5, billing: 'once', totalMinor: 190_000 }],
        parent: { id: 'p', name: 'The whole hotel' },
        children: [{ id: 'c', name: 'The laundry', status: 'won' }],
        leadId: 'l9',
        decisionOn: '2026-12-04',
      },
    });
    for (const words of [
      'signs Otto Sign',
      '2 × Softener less 5 % £1,900 once',
      'part of The whole hotel',
      'holds The laundry won',
      'came from its lead',
      'against Kolk',
    ])
      expect(said(part.root).replaceAll(' ', '')).toContain(words.replaceAll(' ', ''));
  });
});

describe('what belongs to a colleague', () => {
  const theirs = { ownerId: 'dara', ownerName: 'Dara Finch' };

  test('is read, with nothing offered that would be refused', async () => {
    const part = await show(person, { contact: theirs });
    expect(said(part.root)).toContain('Belongs to Dara Finch: you read it, and may comment in its journal.');
    for (const name of ['Call', 'Task', 'plan one', 'Write a note', 'More acts'])
      expect(() => part.button(name)).toThrow('no button');
    await part.tab(/Facts/);
    expect(() => part.button('Change')).toThrow('no button');
  });

  test('is changed by whoever is in the team of the deal', async () => {
    const deal = { kind: 'deal', id: 'd1' };
    const alone = await show(deal, { deal: theirs });
    expect(said(alone.root)).toContain('Belongs to Dara Finch');
    expect(() => alone.button('Move')).toThrow('no button');
    TestBed.resetTestingModule();
    const inTeam = await show(deal, { deal: { ...theirs, team: [{ id: 'me', name: 'Imogen Thorne' }] } });
    expect(inTeam.button('Move')).toBeDefined();
  });
});

test('a record that is gone says so, and can be asked for again', async () => {
  const part = await showPart(Dossier, { inputs: { record: person } });
  await part.refuse('/api/dossier', {
    status: 404,
    code: 'not-found',
    detail: 'This is not here any more.',
  });
  expect(said(part.root)).toContain('This is not here any more.');
});
