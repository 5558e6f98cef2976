import type { DealRow } from '@kettle/contract';
import { aDealRow as deal, aWholeDeal as whole, pipeline, stages } from '../../../testing/deals';
import { aCount, aRow, showPart, type Part } from '../../../testing/part';
import { DealFacts } from '../dossier/index';
import { CloseDealDialog } from './close-deal-dialog';
import { DealDialog } from './deal-dialog';
import { DealLanes, type DealMove } from './deal-lanes';
import { DealsPage } from './deals-page';
import { MoveDealDialog } from './move-deal-dialog';
import { periodOf } from './periods';
import { ReopenDealDialog } from './reopen-deal-dialog';

const said = (root: HTMLElement) => root.textContent.replace(/\s+/g, ' ');

describe('the lanes', () => {
  const show = async (rows: DealRow[], part: object = {}) => {
    const shown = await showPart(DealLanes, { inputs: { pipeline, rows, ...part } });
    const moves: DealMove[] = [];
    shown.shown.move.subscribe((move) => moves.push(move));
    return { ...shown, moves };
  };
  const press = (root: HTMLElement, key: string) =>
    root
      .querySelector('.deal .name')!
      .dispatchEvent(new KeyboardEvent('keydown', { key, altKey: true, bubbles: true, cancelable: true }));

  test('each stage has its count, total and weighted total, and each deal its month', async () => {
    const { root } = await show([
      deal(),
      deal({ id: 'd2', expectedCloseOn: '2026-11-01', tetherState: 'late', stalledDays: 5 }),
    ]);
    expect(said(root)).toContain('overdueNovDecJanFebMarlater or no date');
    expect(said(root.querySelector('.stage')!)).toBe('Inquiry 2 deals · 10 % £24,000 weighted £2,400');
    const cells = [...root.querySelectorAll('.lane')].map((lane) =>
      [...lane.querySelectorAll('.cell')].map((cell) => cell.querySelectorAll('.deal').length),
    );
    expect(cells).toEqual([
      [1, 0, 1, 0, 0, 0, 0],
      [0, 0, 0, 0, 0, 0, 0],
    ]);
    const late = root.querySelector('.deal.late')!;
    expect(late.classList.contains('stalled')).toBe(true);
    expect(late.querySelector('.name')!.getAttribute('aria-label')).toBe(
      'Hotel Linde: softener, next step late, stalled 5 days',
    );
  });

  test('bars of one company say what each is about; a company with one deal stands for it', async () => {
    const of = (id: string, companyName: string | null, name: string) => deal({ id, companyName, name });
    const { root } = await show([
      of('d1', 'Penrow Laundry', 'Penrow Laundry: water softener'),
      of('d2', 'Penrow Laundry', 'Yearly service'),
      of('d3', 'Moor Inn', 'Moor Inn: boiler plan'),
      of('d4', null, 'Softener for a private house'),
    ]);
    const words = [...root.querySelectorAll('.deal .name')].map((each) => each.textContent.trim());
    expect(words.sort()).toEqual([
      'Moor Inn',
      'Softener for a private house',
      'Yearly service, Penrow Laundry',
      'water softener, Penrow Laundry',
    ]);
  });

  test.each([
    ['ArrowDown', { stageId: 'Survey', expectedCloseOn: '2026-12-10' }],
    ['ArrowRight', { stageId: 'Inquiry', expectedCloseOn: '2027-01-10' }],
    ['ArrowLeft', { stageId: 'Inquiry', expectedCloseOn: '2026-11-24' }],
  ])('Alt and %s', async (key, expected) => {
    const { root, moves } = await show([deal()]);
    press(root, key);
    expect(moves).toEqual([{ deal: deal(), ...expected }]);
  });

  test('nothing is moved past the first stage, into the past, or beyond the axis', async () => {
    const now = await show([deal({ expectedCloseOn: '2026-11-28' })]);
    press(now.root, 'ArrowUp');
    press(now.root, 'ArrowLeft');
    expect(now.moves).toEqual([]);
  });

  test('what is on its way stands where it goes', async () => {
    const move = { deal: deal(), stageId: 'Survey', expectedCloseOn: null };
    const { root } = await show([deal()], { moving: new Map([['d1', move]]) });
    const lanes = root.querySelectorAll('.lane');
    expect(lanes[1]!.querySelectorAll('.cell')[6]!.querySelector('.moving')).not.toBeNull();
    expect(said(lanes[0]!.querySelector('.stage')!)).toContain('0 deals');
  });
});

describe('deals', () => {
  const show = async () => {
    const part = await showPart(DealsPage);
    await part.answer('/api/pipelines', { pipelines: [pipeline] });
    await part.answer('/api/deals', { pipelines: [pipeline], rows: [deal()], hidden: 6 });
    return part;
  };
  const moveDown = (root: HTMLElement) =>
    root
      .querySelector('.deal .name')!
      .dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowDown', altKey: true, bubbles: true }));
  const stageOf = (root: HTMLElement) =>
    root.querySelector('.deal')!.closest('.lane')!.getAttribute('aria-label');

  test('a refused move goes back, with the reason', async () => {
    const part = await show();
    moveDown(part.root);
    await part.settle();
    expect(stageOf(part.root)).toBe('Survey');
    await part.refuse('/api/deals/d1/move', { status: 409, code: 'stale', detail: 'Somebody changed this.' });
    expect(stageOf(part.root)).toBe('Inquiry');
    expect(document.body.textContent).toContain('Somebody changed this.');
  });

  test('a pipeline without a deal is drawn all the same, with what to do', async () => {
    const part = await showPart(DealsPage);
    await part.answer('/api/pipelines', { pipelines: [pipeline] });
    await part.answer('/api/deals', { pipelines: [pipeline], rows: [], hidden: 0 });
    expect([...part.root.querySelectorAll('.lane')].map((lane) => lane.getAttribute('aria-label'))).toEqual(
      pipeline.stages.map(({ name }) => name),
    );
    expect(said(part.root)).toContain('No deal yet');
  });

  test('a move is said, and can be undone as the change it was', async () => {
    const part = await show();
    moveDown(part.root);
    await part.settle();
    const asked = part.asked('/api/deals/d1/move');
    expect(asked.request.body).toEqual({ version: 4, stageId: 'Survey', expectedCloseOn: '2026-12-10' });
    asked.flush(deal({ stageId: 'Survey', version: 5 }));
    await part.settle();
    expect(document.body.textContent).toContain('Hotel Linde: softener: Survey, Thu 10 Dec.');
    (await part.undoOf(asked)).flush({ words: 'Undone.' });
    await part.settle();
    expect(document.body.textContent).toContain('Undone.');
  });

  test('says what the filter hides, and has a list beside the lanes', async () => {
    const part = await show();
    expect(said(part.root)).toContain('6 more open, not mine');
    await part.click(part.button('list'));
    expect(part.root.querySelector('kettle-deal-lanes')).not.toBeNull();
  });

  test('as a list asks for the page on screen, in the order of the address, grouped as it says', async () => {
    const filter = JSON.stringify({ join: 'any', rules: [{ field: 'value', ask: 'more', value: 5 }] });
    const part = await showPart(DealsPage, {
      inputs: { as: 'list', sort: '-value', status: 'any', period: 'month', group: 'type', filter },
    });
    const page = part.asked('/api/deals/page');
    const { params } = page.request;
    expect([params.get('sort'), params.get('after'), params.get('limit')]).toEqual(['-value', '0', '100']);
    expect(params.get('filter')).toBe(filter);
    const sums = { value: 1_200_000, weighted: 120_000, unvalued: 0 };
    const groups = [{ key: 'new', name: 'new business', count: 1, sums }];
    page.flush({ rows: [deal()] });
    const count = await part.answer('/api/deals/count', aCount(1, { total: 9, sums, groups }));
    const asked = ['status', 'from', 'to', 'group'].map((key) => count.request.params.get(key));
    expect(asked).toEqual(['any', '2026-11-01', '2026-11-30', 'type']);
    expect(said(part.root)).toContain('1 found · a filter hides 8');
    expect(said(part.root)).toContain('1 in all · £12,000 · weighted £1,200');
  });

  test('won deals have their report by source one press away, of the same people and period', async () => {
    const part = await showPart(DealsPage, {
      inputs: { as: 'list', status: 'won', period: 'last-quarter', owner: 'team' },
    });
    const link = [...part.root.querySelectorAll('a')].find((each) => each.textContent.includes('by source'))!;
    expect(link.getAttribute('href')).toBe('/numbers?part=lost&by=source&whose=team&period=last-quarter');
  });

  test('what a stage asks for is asked at once, with what was refused', async () => {
    const part = await show();
    moveDown(part.root);
    await part.settle();
    await part.refuse('/api/deals/d1/move', {
      status: 422,
      code: 'facts-needed',
      detail: 'The stage asks for a decision date.',
      current: { facts: ['decision'] },
    });
    await part.pass(50);
    expect(stageOf(part.root)).toBe('Inquiry');
    expect(document.querySelector('kettle-move-deal-dialog')!.textContent).toContain('They decide on');
  });

  test('a key without a deal says what to do first', async () => {
    const part = await show();
    document.body.dispatchEvent(new KeyboardEvent('keydown', { key: 'p', bubbles: true }));
    await part.settle();
    expect(document.body.textContent).toContain('Choose a deal first');
  });
});

describe('moving by the dialog', () => {
  const other = {
    ...pipeline,
    id: 'q',
    name: 'Renewals',
    stages: [
      { ...stages[0]!, id: 'Due', name: 'Due', pipelineId: 'q', winProbability: 0.9 },
      { ...stages[0]!, id: 'Asked', name: 'Asked', pipelineId: 'q', winProbability: 0.15 },
    ],
  };
  const show = async (data: object = {}) => {
    const part = await showPart(MoveDealDialog, { data: { deal: deal(), ...data } });
    await part.answer('/api/pipelines', { pipelines: [pipeline, other] });
    return part;
  };

  test('another pipeline proposes the stage that is most like this one', async () => {
    const part = await show();
    await part.choose('Pipeline', 'Renewals');
    await part.click(part.button('Move it'));
    expect(part.asked('/api/deals/d1/move').request.body).toMatchObject({ version: 4, stageId: 'Asked' });
  });

  test('what is asked for one after the other stays on screen with what was typed', async () => {
    const part = await show({ stageId: 'Survey' });
    await part.click(part.button('Move it'));
    const refusal = { status: 422, detail: 'The stage asks for a decision date.' };
    await part.refuse('/api/deals/d1/move', {
      ...refusal,
      code: 'facts-needed',
      current: { facts: ['decision', 'competitor'] },
    });
    await part.type(part.field('They decide on'), '2026-12-11');
    await part.type(part.field('Competitor'), 'Kolk Filters');
    await part.click(part.button('Move it'));
    await part.refuse('/api/deals/d1/move', {
      ...refusal,
      code: 'brief-open',
      current: { prompts: [{ id: 'p1', text: 'measured' }] },
    });
    await part.click(part.field('measured'));
    await part.click(part.button('Move it'));
    expect(part.asked('/api/deals/d1/move').request.body).toMatchObject({
      stageId: 'Survey',
      tick: ['p1'],
      facts: { decisionOn: '2026-12-11', competitor: 'Kolk Filters' },
    });
  });
});

describe('the whole deal', () => {
  test('its lines are its value, with a product’s price filled in', async () => {
    const part = await showPart(DealDialog, { data: { deal: whole() } });
    await part.answer('/api/products', {
      products: [
        { id: 's', name: 'Softener', priceMinor: 385_000, billing: 'once', isRetired: false, version: 1 },
      ],
    });
    await part.click(part.button('Add a product line'));
    await part.type(part.field('Line 1: what'), 'softener');
    await part.type(part.field('Line 1: quantity'), '2');
    await part.type(part.field('Line 1: per cent off'), '10');
    expect(said(part.root)).toContain('value £6,930');
    await part.click(part.button('Save'));
    expect(part.asked('/api/deals/d1').request.body).toMatchObject({
      version: 4,
      competitors: ['Kolk'],
      lines: [{ productId: 's', quantity: 2, priceMinor: 385_000, discountPercent: 10, billing: 'once' }],
    });
  });

  test('a line that is refused is told at the line, and what was typed stands', async () => {
    const part = await showPart(DealDialog, { data: { deal: whole() } });
    await part.click(part.button('Add a product line'));
    await part.type(part.field('Line 1: what'), 'pump');
    await part.type(part.field('Line 1: price'), 'a lot');
    await part.click(part.button('Save'));
    const fields = [{ path: 'lines.0.priceMinor', message: 'must not be negative' }];
    await part.refuse('/api/deals/d1', { status: 400, code: 'invalid-request', detail: 'Check.', fields });
    expect(said(part.root)).toContain('price must be an amount in GBP such as 385');
    expect(part.field('Line 1: price').value).toBe('a lot');
  });

  test('a save that met another’s change of the same field asks whose value holds, and sends what was chosen', async () => {
    const part = await showPart(DealDialog, { data: { deal: whole() } });
    await part.type(part.field('What it is about'), 'Mine');
    await part.click(part.button('Save'));
    const refusal = (current: object) => ({
      status: 409,
      code: 'stale',
      detail: 'Changed.',
      fields: [{ path: 'name', message: 'was changed by Corin Vale meanwhile' }],
      current: deal(current),
    });
    await part.refuse('/api/deals/d1', refusal({ name: 'Theirs', version: 7 }));
    expect(said(part.root)).toContain('Name was changed by Corin Vale meanwhile');
    expect(said(part.root)).toMatch(/Mine: Mine.*Theirs: Theirs/);
    // Without a choice it is asked again; the version stays the one that was seen.
    await part.click(part.button('Save'));
    const undecided = part.asked('/api/deals/d1');
    expect(undecided.request.body).toMatchObject({
      version: 4,
      resolved: { version: 7, mine: [], theirs: [] },
    });
    undecided.flush(refusal({ name: 'Theirs', version: 8 }), { status: 409, statusText: 'no' });
    await part.settle();
    await part.click(part.field(/^Theirs: Theirs/));
    await part.click(part.button('Save'));
    expect(part.asked('/api/deals/d1').request.body).toMatchObject({
      name: 'Mine',
      version: 4,
      resolved: { version: 8, mine: [], theirs: ['name'] },
    });
  });

  test('a change too long ago to compare is said to be replaced', async () => {
    const part = await showPart(DealDialog, { data: { deal: whole() } });
    await part.click(part.button('Save'));
    await part.refuse('/api/deals/d1', {
      status: 409,
      code: 'stale',
      detail: 'Changed.',
      current: deal({ version: 7 }),
    });
    expect(said(part.root)).toContain('too long ago to compare');
  });

  test('facts show the brief to tick, and when to let go', async () => {
    const prompts = [{ id: 'p1', text: 'measured', isRequired: true, isTicked: false }];
    const part = await showPart(DealFacts, { inputs: { deal: whole({ prompts }) } });
    await part.answer('/api/deals/d1/letting-go', {
      tries: 6,
      openDays: 120,
      usualDays: 47,
      chance: { rate: 0.02, low: 0.01, high: 0.04, cases: 200 },
      advice: 'consider letting go',
    });
    expect(said(part.root)).toContain(
      '6 tries since the last conversation · open 120 days, usually 47 to win',
    );
    expect(said(part.root)).toContain('within 30 days: 2 % (1 % to 4 %, 200 cases)');
    await part.click(part.root.querySelector<HTMLInputElement>('input[type=checkbox]')!);
    expect(part.asked('/api/deals/d1/prompts').request.body).toEqual({
      promptId: 'p1',
      isTicked: true,
    });
  });
});

test('product lines of a deal are in its currency', async () => {
  const lines = [
    { id: 'l', productId: null, name: 'softener', quantity: 1, priceMinor: 250_000, discountPercent: 0 },
  ];
  const part = await showPart(DealFacts, {
    inputs: {
      deal: whole({
        currency: 'JPY',
        lines: lines.map((each) => ({ ...each, billing: 'once', totalMinor: 250_000 })),
      }),
    },
  });
  expect(said(part.root)).toContain('JP¥250,000');
});

describe('a brief that is done', () => {
  const stage = (id: string) => ({
    id,
    name: id,
    winProbability: 0.5,
    patienceDays: 14,
    needs: [],
    brief: { prompts: [], tasks: [] },
  });
  const show = async (part: object) => {
    const facts = await showPart(DealFacts, { inputs: { deal: whole(part) } });
    await facts.answer('/api/deals/d1/letting-go', {
      tries: 0,
      openDays: 3,
      usualDays: null,
      chance: null,
      advice: 'go on',
    });
    for (const asked of facts.server.match((call) => call.url === '/api/pipelines'))
      asked.flush({
        pipelines: [{ id: 'p', name: 'Sales', version: 1, stages: [stage('survey'), stage('offer')] }],
      });
    await facts.settle();
    return facts;
  };
  const ticked = [{ id: 'p1', text: 'measured', isRequired: true, isTicked: true }];
  const press = async (part: Part<DealFacts>) => {
    window.dispatchEvent(new KeyboardEvent('keydown', { key: 'h', bubbles: true }));
    await part.settle();
  };

  test('takes the deal to the next stage by one key', async () => {
    const part = await show({ stageId: 'survey', prompts: ticked, briefTasksOpen: 0 });
    expect(said(part.root)).toContain('The brief is done: on to offer');
    await press(part);
    expect(part.asked('/api/deals/d1/move').request.body).toMatchObject({ stageId: 'offer' });
  });

  test('of the last stage leads to winning', async () => {
    const part = await show({ stageId: 'offer', prompts: ticked, briefTasksOpen: 0 });
    expect(said(part.root)).toContain('The brief is done: win it');
  });

  test('is none while a prompt that is needed or a task of it is open', async () => {
    const part = await show({ stageId: 'survey', prompts: ticked, briefTasksOpen: 1 });
    expect(said(part.root)).not.toContain('The brief is done');
    await press(part);
    part.server.expectNone('/api/deals/d1/move');
  });
});

describe('closing', () => {
  test('winning brings its agreement along, and marks an amount that is none', async () => {
    const part = await showPart(CloseDealDialog, { data: { deal: deal({ companyId: 'firm' }), as: 'won' } });
    await part.click(part.field('with an agreement'));
    await part.type(part.field('Value of the term'), 'much');
    await part.click(part.button('It is won'));
    expect(said(part.root)).toContain('must be an amount in GBP such as');
    await part.type(part.field('Value of the term'), '480');
    await part.click(part.button('It is won'));
    expect(part.asked('/api/deals/d1/close').request.body).toMatchObject({
      as: 'won',
      on: '2026-11-24',
      amountMinor: 1_200_000,
      agreement: { valueMinor: 48_000, termMonths: 12, startsOn: '2026-11-24', renewsItself: true },
    });
  });

  test('where the organisation asks for it, winning needs its reason; nothing is sent without', async () => {
    const part = await showPart(CloseDealDialog, { data: { deal: deal(), as: 'won' } });
    await part.answer('/api/close-reasons', {
      ...{ version: 1, won: ['service'], lost: [], parked: [], aside: [], wonNeedsReason: true },
    });
    await part.click(part.button('It is won'));
    part.server.expectNone('/api/deals/d1/close');
    expect(said(part.root)).toContain('is missing');
    await part.type(part.field('What won it'), 'service');
    await part.click(part.button('It is won'));
    expect(part.asked('/api/deals/d1/close').request.body).toMatchObject({ as: 'won', reason: 'service' });
  });

  test('a prompt that must be ticked first is ticked here', async () => {
    const part = await showPart(CloseDealDialog, { data: { deal: deal(), as: 'won' } });
    await part.click(part.button('It is won'));
    const current = { prompts: [{ id: 'p1', text: 'terms explained' }] };
    await part.refuse('/api/deals/d1/close', {
      status: 422,
      code: 'brief-open',
      detail: 'Tick first.',
      current,
    });
    await part.click(part.field('terms explained'));
    await part.click(part.button('It is won'));
    expect(part.asked('/api/deals/d1/close').request.body).toMatchObject({ tick: ['p1'] });
  });
});

test.each([
  ['month', '2026-11-01', '2026-11-30'],
  ['next-month', '2026-12-01', '2026-12-31'],
  ['quarter', '2026-10-01', '2026-12-31'],
  ['next-quarter', '2027-01-01', '2027-03-31'],
  ['last-quarter', '2026-07-01', '2026-09-30'],
  ['year', '2026-01-01', '2026-12-31'],
])('%s runs from %s to %s', (name, from, to) => {
  expect(periodOf(name, '2026-11-24')).toEqual({ from, to });
});

test('parking asks for a day ahead and a reason', async () => {
  const part = await showPart(CloseDealDialog, { data: { deal: deal(), as: 'parked' } });
  await part.type(part.field('Back in the Round on'), '2026-11-24');
  expect(part.field('Back in the Round on').getAttribute('min')).toContain('2026-11-25');
  await part.type(part.field('Back in the Round on'), '2026-12-24');
  await part.type(part.field('Why'), 'next year’s budget');
  await part.click(part.button('Park it'));
  expect(part.asked('/api/deals/d1/close').request.body).toEqual({
    as: 'parked',
    version: 4,
    wakeOn: '2026-12-24',
    reason: 'next year’s budget',
    words: '',
    keep: [],
  });
});

const ask = { id: 't1', channel: 'call', purpose: 'ask about the survey', dueOn: '2026-11-26' };

test('closing asks what of the plan stays; what is not ticked is dropped', async () => {
  const part = await showPart(CloseDealDialog, { data: { deal: deal(), as: 'lost' } });
  await part.answer('/api/deals/d1/closing-steps', {
    steps: [ask],
    runs: [{ id: 'r1', cadenceName: 'First contact' }],
  });
  expect(part.root.textContent).toMatch(
    /What of the plan stays\? The rest is dropped\..*ask about the survey.*Cadence “First contact”/s,
  );
  const [step, run] = part.root.querySelectorAll<HTMLInputElement>('kettle-closing-steps input');
  await part.click(step!);
  await part.click(run!);
  await part.click(step!);
  await part.type(part.field('Why'), 'price');
  await part.click(part.button('It is lost'));
  expect(part.asked('/api/deals/d1/close').request.body).toMatchObject({ keep: ['r1'] });
});

test('opening again brings back what closing dropped, unless that is not wanted', async () => {
  const part = await showPart(ReopenDealDialog, { data: deal({ status: 'lost' }) });
  await part.answer('/api/deals/d1/closing-steps', { steps: [ask], runs: [] });
  expect(part.root.textContent).toContain('ask about the survey');
  await part.click(part.button('Reopen'));
  expect(part.asked('/api/deals/d1/reopen').request.body).toMatchObject({ bringBack: true });
});

test('opening again asks what happens next', async () => {
  const part = await showPart(ReopenDealDialog, { data: deal({ status: 'parked' }) });
  await part.type(part.field('Next step: purpose'), 'ask about the budget');
  await part.click(part.button('Reopen'));
  expect(part.asked('/api/deals/d1/reopen').request.body).toMatchObject({
    next: { kind: 'task', channel: 'call', dueOn: '2026-11-24', purpose: 'ask about the budget' },
  });
});

describe('a deal in the lanes', () => {
  const theirs = { ownerId: 'rhys', ownerName: 'Rhys Calder' };
  test.each([
    ['of one’s own offers moving', {}, true],
    ['of a colleague does not', theirs, false],
    ['of a colleague does to its team', { ...theirs, teamIds: ['me'] }, true],
  ])('%s', async (_, part, isOffered) => {
    const { root } = await showPart(DealLanes, { inputs: { pipeline, rows: [deal(part)] } });
    expect(root.querySelector('[aria-label^="Move or close"]') !== null).toBe(isOffered);
    expect(root.querySelector('.deal')!.classList.contains('cdk-drag-disabled')).toBe(!isOffered);
  });
});

describe('where a new deal stands', () => {
  const renewals = {
    ...{ id: 'r', name: 'Renewals', version: 1 },
    stages: [
      { id: 'r1', name: 'To talk', winProbability: 0.5 },
      { id: 'r2', name: 'Offered', winProbability: 0.8 },
    ],
  };
  const show = async (pipelines: readonly object[]) => {
    const part = await showPart(DealDialog, { data: { contact: aRow() } });
    await part.answer('/api/pipelines', { pipelines });
    return part;
  };

  test('is its pipeline first, then one of that one’s stages', async () => {
    const part = await show([pipeline, renewals]);
    expect(await part.choicesOf('Pipeline')).toEqual(['Plant sales', 'Renewals']);
    expect(await part.choicesOf('Stage')).toEqual(['Inquiry · 10 %', 'Survey · 25 %']);
    await part.choose('Pipeline', 'Renewals');
    expect(part.field('Stage').textContent).toContain('To talk · 50 %');
    expect(await part.choicesOf('Stage')).toEqual(['To talk · 50 %', 'Offered · 80 %']);
    await part.choose('Stage', 'Offered · 80 %');
    expect(part.field('Pipeline').textContent).toContain('Renewals');
  });

  test('is asked for its stage alone where there is one pipeline', async () => {
    const part = await show([pipeline]);
    expect(() => part.field('Pipeline')).toThrow();
    expect(part.field('Stage').textContent).toContain('Inquiry');
  });
});
