import { MatDialog } from '@angular/material/dialog';
import { Router } from '@angular/router';
import { TestBed } from '@angular/core/testing';
import type { Lead, LeadRow, QualifyPlan } from '@kettle/contract';
import { of } from 'rxjs';
import { aCount, aRow, type Part, showPart } from '../../../testing/part';
import { AsideDialog } from './aside-dialog';
import { DropOffPanel } from './drop-off-panel';
import { LeadDialog } from './lead-dialog';
import { LeadFacts } from './lead-facts';
import { LeadsPage } from './leads-page';
import { QualifyPage } from './qualify-page';

jest.mock('../../kit/chart-parts', () => ({
  Chart: class {
    destroy() {
      // Nothing was drawn.
    }
  },
}));
beforeEach(() => jest.spyOn(HTMLCanvasElement.prototype, 'getContext').mockReturnValue(null));

const noTether = {
  lastTouchAt: null,
  lastTouchKind: null,
  lastTouchCounts: null,
  nextStepOn: null,
  nextStepChannel: null,
  nextStepAt: null,
};
const aLeadRow = (part: object = {}): LeadRow =>
  ({
    id: 'l1',
    contactId: 'nora',
    contactName: 'Nora Pell',
    jobTitle: null,
    companyId: null,
    companyName: 'Pell Spa',
    email: 'nora@pell.example',
    phone: null,
    zone: 'Europe/London',
    ownerId: 'me',
    ownerName: 'Imogen Thorne',
    status: 'untried',
    warmth: 'hot',
    subject: 'Hard water',
    source: 'web site',
    campaign: null,
    tags: [],
    custom: {},
    followUpOn: null,
    wakeOn: null,
    asideReason: null,
    archivedAt: null,
    dealId: null,
    tether: noTether,
    tetherState: 'loose',
    createdAt: '2026-11-24T08:25:00.000Z',
    version: 3,
    ...part,
  }) as never;
const aLead = (part: object = {}): Lead =>
  ({
    ...aLeadRow(),
    about: '',
    deal: null,
    statusSince: '2026-11-24T08:25:00.000Z',
    link: null,
    consent: null,
    formName: null,
    canUnqualify: false,
    ...part,
  }) as never;
/** A contact of a list, as far as these tests look at one. */
const aContact = (part: object) => aRow(part) as unknown as { id: string; version: number };
const said = (root: HTMLElement) => root.textContent.replace(/\s+/g, ' ');

/** Leads by status, as the server counts and gives them; four more are not mine. */
async function answerList(part: Part<unknown>, rows: LeadRow[], counts: object[] = []): Promise<void> {
  const statuses = [...new Set(rows.map(({ status }) => status))];
  const groups = statuses.map((key) => ({
    ...{ key, name: key === 'in-talks' ? 'in talks' : key, sums: {} },
    count: rows.filter(({ status }) => status === key).length,
  }));
  const count = aCount(rows.length, { total: rows.length + 4, groups });
  await part.answer('/api/leads/count', { ...count, counts, sources: ['fair'], campaigns: [] });
  await part.answer('/api/leads', { rows });
  await part.pass(50);
}

describe('leads', () => {
  const show = async (rows: LeadRow[], inputs: object = {}) => {
    const part = await showPart(LeadsPage, { inputs: { ...inputs } });
    await answerList(part, rows, [{ status: 'untried', count: 2, due: 1 }]);
    return part;
  };

  test('stand by status, the untried with how long they wait', async () => {
    const { root } = await show([
      aLeadRow(),
      aLeadRow({ id: 'l2', status: 'in-talks', contactName: 'Cormac Teague' }),
    ]);
    expect([...root.querySelectorAll('.group b')].map((each) => each.textContent)).toEqual([
      'untried',
      'in talks',
    ]);
    expect(said(root)).toMatch(/waits \d+ min/);
    expect(said(root)).toContain('2 found · 4 not shown');
  });

  test('one that is nobody’s is taken with one press', async () => {
    const part = await show([aLeadRow({ ownerId: null, ownerName: null })], { owner: 'unowned' });
    await part.click(part.button('take it'));
    part.asked('/api/leads/l1/claim').flush(aLead());
    await part.settle();
    expect(document.body.textContent).toContain('Nora Pell is yours now.');
  });

  test('the filter is asked of the server, and a key without a lead says what to do', async () => {
    const part = await showPart(LeadsPage, { inputs: { status: 'trying', warmth: 'hot' } });
    const asked = part.asked('/api/leads/count').request.params;
    expect([asked.get('status'), asked.get('warmth'), asked.get('owner')]).toEqual(['trying', 'hot', 'mine']);
    document.body.dispatchEvent(new KeyboardEvent('keydown', { key: 'x', bubbles: true }));
    await part.settle();
    expect(document.body.textContent).toContain('Choose a lead first');
  });
});

describe('how far leads came', () => {
  const steps = (part: object = {}) => ({
    ...{ began: 4, tried: 3, talked: 2, qualified: 1, aside: 1 },
    ...part,
  });
  const show = async (dropOff: object) => {
    const part = await showPart(DropOffPanel, { inputs: { owner: 'all' } });
    const asked = part.asked('/api/leads/drop-off');
    const { params } = asked.request;
    expect(['from', 'to', 'owner'].map((key) => params.get(key))).toEqual([
      ...['2026-08-26', '2026-11-24', 'all'],
    ]);
    asked.flush(dropOff);
    await part.settle();
    return part;
  };

  test('by source with shares of those that began, and why they were set aside', async () => {
    const sources = [
      { source: 'fair', ...steps() },
      { source: null, ...steps({ began: 1, tried: 0 }) },
    ];
    const reasons = [{ reason: 'no budget', count: 3, tried: 2, talked: 1 }];
    const part = await show({ total: steps({ began: 5 }), sources, reasons });
    const rows = [...part.root.querySelectorAll('kettle-table')]
      .at(-2)!
      .querySelectorAll<HTMLElement>('tbody tr');
    expect(said(rows[0]!).trim()).toBe('fair 4 3 75 % 2 50 % 1 25 % 1');
    expect(said(rows[1]!)).toContain('not known');
    expect(rows[0]!.querySelector('a')!.getAttribute('href')).toBe('/deals/leads?source=fair&owner=all');
    expect(said(part.root)).toMatch(/no budget\s*3\s*1\s*1/);
  });

  test('none in the period says what to do', async () => {
    const part = await show({ total: steps({ began: 0 }), sources: [], reasons: [] });
    expect(said(part.root)).toContain('No lead began thenChoose other days, or everyone’s leads.');
  });
});

describe('leads by the keyboard', () => {
  const show = async (
    rows: LeadRow[] = [aLeadRow(), aLeadRow({ id: 'l2', contactName: 'Edda Corran', version: 6 })],
  ) => {
    const part = await showPart(LeadsPage);
    document.body.append(part.root);
    const router = TestBed.inject(Router);
    const go = jest.spyOn(router, 'navigate').mockResolvedValue(true);
    await answerList(part, rows);
    const focus = (id: string) => part.root.querySelector<HTMLElement>(`[data-row="${id}"] .pick`)!.focus();
    const press = async (key: string) => {
      (document.activeElement ?? document.body).dispatchEvent(
        new KeyboardEvent('keydown', { key, bubbles: true }),
      );
      await part.pass(20);
    };
    return { part, go, focus, press };
  };
  afterEach(() => {
    for (const selector of ['kettle-leads-page', '.cdk-overlay-container'])
      document.querySelectorAll(selector).forEach((each) => each.remove());
  });

  test('the arrow opens the first, and Q qualifies the one that has the focus', async () => {
    const { go, focus, press } = await show();
    await press('ArrowDown');
    expect(go).toHaveBeenCalledWith([], expect.objectContaining({ queryParams: { open: 'lead:l1' } }));
    focus('l2');
    await press('q');
    expect(go).toHaveBeenLastCalledWith(['/deals/leads', 'l2', 'qualify']);
  });

  test('X sets aside, and its undo undoes that very change', async () => {
    const { part, focus, press } = await show([aLeadRow({ status: 'in-talks' })]);
    const aside = aLead({ status: 'set-aside', version: 4 });
    const open = jest
      .spyOn(TestBed.inject(MatDialog), 'open')
      .mockReturnValue({ afterClosed: () => of(aside) } as never);
    focus('l1');
    await press('x');
    const { data } = open.mock.calls[0]![1] as { data: { lead: LeadRow; changeId: string } };
    expect([open.mock.calls[0]![0], data.lead]).toEqual([AsideDialog, aLeadRow({ status: 'in-talks' })]);
    expect(document.body.textContent).toContain('Nora Pell is set aside.');
    const undo = [...document.querySelectorAll('button')].find((each) => each.textContent.includes('Undo'))!;
    await part.click(undo);
    expect(part.asked(`/api/changes/${data.changeId}/undo`)).toBeTruthy();
  });

  test('K takes one from the pool; one that another took first is told, and the list read again', async () => {
    const { part, focus, press } = await show([aLeadRow({ ownerId: null, ownerName: null })]);
    focus('l1');
    await press('k');
    await part.refuse('/api/leads/l1/claim', {
      status: 409,
      code: 'already-claimed',
      detail: 'Rhys Calder has taken it.',
    });
    expect(document.body.textContent).toContain('Rhys Calder has taken it.');
    expect(part.asked('/api/leads').request.method).toBe('GET');
  });

  test('without any it says how they come; behind a filter it offers to show all', async () => {
    const none = { ...aCount(0), counts: [], sources: [], campaigns: [] };
    const empty = await showPart(LeadsPage);
    await empty.answer('/api/leads/count', none);
    await empty.answer('/api/leads', { rows: [] });
    expect(said(empty.root)).toContain('They come from a form on the web');
    TestBed.resetTestingModule();
    const filtered = await showPart(LeadsPage, { inputs: { warmth: 'hot' } });
    await filtered.answer('/api/leads/count', { ...none, total: 9 });
    await filtered.answer('/api/leads', { rows: [] });
    expect(said(filtered.root)).toContain('a filter hides 9');
    const go = jest.spyOn(TestBed.inject(Router), 'navigate').mockResolvedValue(true);
    await filtered.click(filtered.button('Show all'));
    const [, extras] = go.mock.calls[0] as unknown as [unknown, { queryParams: object }];
    expect(extras.queryParams).toMatchObject({ owner: 'all', warmth: null, status: null, q: null });
  });
});

/** Nobody answered: the form may be sent again. */
const away = { status: 503, code: 'database-away', detail: 'In a moment.', fields: [] };

describe('a lead is written', () => {
  test('on somebody new, who may be known already', async () => {
    const part = await showPart(LeadDialog, { data: {} });
    await part.type(part.field('Family name'), 'Pell');
    part.field('Family name').dispatchEvent(new Event('focusout', { bubbles: true }));
    await part.settle();
    const contact = aContact({ name: 'Nora Pell', companyName: 'Pell Spa' });
    const evidence = [{ about: 'mail', words: 'the same address' }];
    await part.answer('/api/contacts/similar', {
      like: [{ contact, likeness: 'certain', score: 1, evidence }],
    });
    expect(said(part.root)).toContain('certain: the same address');
    await part.click(part.button('that is who it is'));
    await part.type(part.field('What they want'), 'a softener');
    await part.click(part.button('Add the lead'));
    expect(part.asked('/api/leads').request.body).toMatchObject({
      contactId: contact.id,
      subject: 'a softener',
    });
  });

  test('what is wrong is told at its field, and nothing typed is lost', async () => {
    const part = await showPart(LeadDialog, {
      data: { name: 'Nora Pell', email: 'no', subject: 'a softener' },
    });
    await part.click(part.button('Add the lead'));
    const fields = [{ path: 'person.email', message: 'must be an e-mail address' }];
    await part.refuse('/api/leads', { status: 400, code: 'invalid-request', detail: 'Check.', fields });
    expect(said(part.root)).toContain('must be an e-mail address');
    expect([part.field('Given name').value, part.field('Family name').value]).toEqual(['Nora', 'Pell']);
  });

  test('by the rule, by name, or to the pool', async () => {
    const part = await showPart(LeadDialog, { data: { name: 'Nora Pell', subject: 'x' } });
    await part.choose('Owner', /rule/);
    await part.click(part.button('Add the lead'));
    const byRule = await part.refuse('/api/leads', away);
    expect(byRule.request.body).not.toHaveProperty('ownerId');
    await part.choose('Owner', /pool/);
    await part.click(part.button('Add the lead'));
    expect(part.asked('/api/leads').request.body).toMatchObject({ ownerId: null });
  });

  test('a change that met another’s of the same field goes over it when that is chosen', async () => {
    const part = await showPart(LeadDialog, { data: { lead: aLead() } });
    await part.choose('Status', 'in talks');
    await part.click(part.button('Save'));
    await part.refuse('/api/leads/l1', {
      status: 409,
      code: 'stale',
      detail: 'Changed.',
      fields: [{ path: 'status', message: 'was changed by Corin Vale meanwhile' }],
      current: aLead({ version: 8 }),
    });
    await part.click(part.field(/^Mine: in talks/));
    await part.click(part.button('Save'));
    expect(part.asked('/api/leads/l1').request.body).toMatchObject({
      version: 3,
      resolved: { version: 8, mine: ['status'], theirs: [] },
      status: 'in-talks',
      subject: 'Hard water',
    });
  });

  test('an admin’s fields are changed with it, and a conflict of one says its name and both values', async () => {
    const part = await showPart(LeadDialog, { data: { lead: aLead({ custom: { volume: 12, seen: 'x' } }) } });
    const ofLead = (id: string, name: string, type: string) => ({
      ...{ id, subject: 'lead', name, type, choices: [], isRetired: false, version: 1 },
    });
    await part.answer('/api/custom-fields', {
      fields: [ofLead('volume', 'Water a day', 'number'), ofLead('seen', 'Seen', 'text')],
    });
    await part.type(part.field('Water a day'), '30');
    await part.click(part.button('Save'));
    await part.refuse('/api/leads/l1', {
      status: 409,
      code: 'stale',
      detail: 'Changed.',
      fields: [{ path: 'custom.volume', message: 'was changed by Corin Vale meanwhile' }],
      current: aLead({ version: 8, custom: { volume: 20, seen: 'x' } }),
    });
    expect(said(part.root)).toContain('Water a day was changed by Corin Vale meanwhile');
    expect(said(part.root)).toMatch(/Mine: 30 ?Theirs: 20/);
    await part.click(part.field(/^Mine: 30/));
    await part.click(part.button('Save'));
    expect(part.asked('/api/leads/l1').request.body).toMatchObject({
      custom: { volume: 30 },
      resolved: { version: 8, mine: ['custom.volume'], theirs: [] },
    });
  });
});

test('set aside asks why, and whether it comes back', async () => {
  const part = await showPart(AsideDialog, { data: { lead: aLead(), changeId: 'c1' } });
  await part.type(part.field('Why'), 'building work first');
  await part.type(part.field(/^Back in the Round/), '2027-03-01');
  await part.click(part.button('Set it aside'));
  expect(part.asked('/api/leads/l1/aside').request.body).toEqual({
    reason: 'building work first',
    wakeOn: '2027-03-01',
  });
});

describe('the dossier of a lead', () => {
  test.each([
    [{}, ['Qualify', 'Change', 'Set aside']],
    [{ status: 'set-aside', asideReason: 'no need' }, ['Take it up again', 'Archive']],
    [{ status: 'qualified', canUnqualify: true }, ['Undo qualifying', 'Archive']],
    [{ ownerId: null, ownerName: null }, ['Take it', 'Qualify', 'Change', 'Set aside']],
  ])('%j offers %j', async (state, acts) => {
    const { root } = await showPart(LeadFacts, { inputs: { lead: aLead(state) } });
    expect(
      [...root.querySelectorAll('.mat-mdc-outlined-button, .mat-mdc-unelevated-button')].map((act) =>
        act.textContent.trim(),
      ),
    ).toEqual(acts);
  });

  test('shows the consent word for word', async () => {
    const consent = { words: 'You may call me.', at: '2026-11-24T08:25:00.000Z' };
    const { root } = await showPart(LeadFacts, { inputs: { lead: aLead({ consent, formName: 'site' }) } });
    expect(said(root)).toContain('“You may call me.”');
  });
});

describe('qualifying', () => {
  const plan = (part: Partial<QualifyPlan> = {}): QualifyPlan => ({
    lead: aLead(),
    people: [],
    companies: [],
    deals: [],
    brings: { entries: 2, tasks: 1, runs: 0, files: 0, fields: ['Boilers'] },
    ...part,
  });
  const show = async (known: QualifyPlan) => {
    const part = await showPart(QualifyPage, { inputs: { id: 'l1' } });
    const stages = [{ id: 's1', name: 'Inquiry', winProbability: 0.1 }];
    await part.answer('/api/pipelines', { pipelines: [{ id: 'p', name: 'Sales', version: 1, stages }] });
    await part.answer('/api/leads/l1/qualify', known);
    return part;
  };

  test('what is known stands first and is chosen; all of it goes in one request', async () => {
    const match = {
      contact: aContact({ name: 'Nora Pell' }),
      likeness: 'certain',
      score: 1,
      evidence: [{ about: 'mail', words: 'the same address' }],
    };
    const firm = { id: 'firm', name: 'Pell Spa', city: 'Skell', why: 'the same name' };
    const part = await show(plan({ people: [match] as never, companies: [firm] as never }));
    expect(said(part.root)).toContain('2 journal entries, 1 open task, Boilers come along');
    await part.type(part.field('Value'), '4,400');
    await part.type(part.field('Next step: purpose'), 'look at it');
    await part.click(part.button('Qualify'));
    expect(part.asked('/api/leads/l1/qualify').request.body).toMatchObject({
      version: 3,
      person: { kind: 'merge', contactId: match.contact.id, version: match.contact.version },
      company: { kind: 'known', companyId: 'firm' },
      deal: {
        name: 'Pell Spa: Hard water',
        amountMinor: 440_000,
        stageId: 's1',
        next: { purpose: 'look at it' },
      },
    });
  });

  test('without matches a new company is proposed, or none', async () => {
    const part = await show(plan());
    await part.type(part.field('Value'), 'much');
    await part.click(part.button('Qualify'));
    expect(said(part.root)).toContain('must be an amount in GBP such as');
    await part.click(part.field('none: they buy for themselves'));
    await part.type(part.field('Value'), '12k');
    await part.type(part.field('Next step: purpose'), 'look at it');
    await part.click(part.button('Qualify'));
    expect(part.asked('/api/leads/l1/qualify').request.body).toMatchObject({
      person: { kind: 'same' },
      company: { kind: 'none' },
      deal: { amountMinor: 1_200_000 },
    });
  });

  test('once done it leads to the deal, and can be undone', async () => {
    const part = await show(plan());
    const go = jest.spyOn(TestBed.inject(Router), 'navigate').mockResolvedValue(true);
    await part.type(part.field('Value'), '10');
    await part.type(part.field('Next step: purpose'), 'look at it');
    await part.click(part.button('Qualify'));
    part.asked('/api/leads/l1/qualify').flush(aLead({ status: 'qualified', dealId: 'd9', version: 5 }));
    await part.settle();
    expect(go).toHaveBeenCalledWith(['/deals', 'd9']);
    const undo = [...document.querySelectorAll('button')].find((each) => each.textContent.includes('Undo'))!;
    await part.click(undo);
    expect(part.asked('/api/leads/l1/unqualify')).toBeTruthy();
  });
});
