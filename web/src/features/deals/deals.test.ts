import type { DealRow } from '@kettle/contract';
import { showPart } from '../../../testing/part';
import { CloseDealDialog } from './close-deal-dialog';
import { DealLanes, type DealMove } from './deal-lanes';
import { DealsPage } from './deals-page';
import { ReopenDealDialog } from './reopen-deal-dialog';

const stages = ['Inquiry', 'Survey'].map((name, position) => ({
  id: name,
  pipelineId: 'p',
  name,
  winProbability: 0.1 + position * 0.15,
  patienceDays: 14,
  position,
}));
const pipeline = { id: 'p', name: 'Plant sales', stages };
const deal = (part: object = {}): DealRow =>
  ({
    id: 'd1',
    name: 'Hotel Linde: softener',
    status: 'open',
    companyName: 'Hotel Linde',
    contactName: 'Greta Holm',
    contactId: 'greta',
    stageId: 'Inquiry',
    amountMinor: 1_200_000,
    weightedMinor: 120_000,
    winProbability: 0.1,
    expectedCloseOn: '2026-12-10',
    tether: {
      lastTouchAt: null,
      lastTouchKind: null,
      lastTouchCounts: null,
      nextStepOn: '2026-11-26',
      nextStepChannel: 'call',
    },
    tetherState: 'held',
    stalledDays: -3,
    version: 4,
    ...part,
  }) as never;
const said = (root: HTMLElement) => root.textContent!.replace(/\s+/g, ' ');

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

  test('a move is said, and can be undone over its new version', async () => {
    const part = await show();
    moveDown(part.root);
    await part.settle();
    const asked = part.asked('/api/deals/d1/move');
    expect(asked.request.body).toEqual({ version: 4, stageId: 'Survey', expectedCloseOn: '2026-12-10' });
    asked.flush(deal({ stageId: 'Survey', version: 5 }));
    await part.settle();
    expect(document.body.textContent).toContain('Hotel Linde: softener: Survey, Thu 10 Dec.');
    const undo = [...document.querySelectorAll('button')].find((each) => each.textContent!.includes('Undo'))!;
    await part.click(undo);
    expect(part.asked('/api/deals/d1/move').request.body).toMatchObject({ version: 5, stageId: 'Inquiry' });
  });

  test('says what the filter hides, and has a list beside the lanes', async () => {
    const part = await show();
    expect(said(part.root)).toContain('a filter hides 6');
    expect(part.root.querySelector('table.list')).toBeNull();
    const list = await showListed();
    expect(list.root.querySelector('table.list')).not.toBeNull();
  });

  async function showListed() {
    const { TestBed } = await import('@angular/core/testing');
    TestBed.resetTestingModule();
    const part = await showPart(DealsPage, { inputs: { as: 'list' } });
    await part.answer('/api/deals', { pipelines: [pipeline], rows: [deal()], hidden: 0 });
    return part;
  }
});

test('parking asks for a day ahead and a reason', async () => {
  const part = await showPart(CloseDealDialog, { data: { deal: deal(), as: 'parked' } });
  expect(part.field('Back in the Round on').min).toBe('2026-11-25');
  await part.type(part.field('Why'), 'next year’s budget');
  await part.click(part.button('Park it'));
  expect(part.asked('/api/deals/d1/close').request.body).toEqual({
    as: 'parked',
    version: 4,
    wakeOn: '2026-12-24',
    reason: 'next year’s budget',
  });
});

test('opening again asks what happens next', async () => {
  const part = await showPart(ReopenDealDialog, { data: deal({ status: 'parked' }) });
  await part.type(part.field('What for'), 'ask about the budget');
  await part.click(part.button('Open it again'));
  expect(part.asked('/api/deals/d1/reopen').request.body).toMatchObject({
    version: 4,
    next: { kind: 'task', channel: 'call', dueOn: '2026-11-24', purpose: 'ask about the budget' },
  });
});
