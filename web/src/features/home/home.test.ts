import type { Home, HomeCard } from '@kettle/contract';
import { aCount, showPart, type Part } from '../../../testing/part';
import { LanesCard, LeadsCard, RenewalsCard, StandingsCard } from './count-cards';
import { ForecastCard } from './forecast-card';
import { MonthCard } from './month-card';
import { TodayCard } from './today-card';
import { ViewCard } from './view-card';
import { HomePage } from './home-page';

jest.mock('../../kit/chart-parts', () => ({
  Chart: class {
    destroy() {
      // Nothing was drawn.
    }
  },
}));
beforeEach(() => jest.spyOn(HTMLCanvasElement.prototype, 'getContext').mockReturnValue(null));

const said = (root: Element) => root.textContent.replace(/\s+/g, ' ').trim();
const id = (n: number) => `00000000-0000-7000-8000-00000000000${n}`;
const card = (n: number, part: object = {}): HomeCard =>
  ({ id: id(n), kind: 'leads', width: 1, whose: 'mine', viewId: null, as: 'list', ...part }) as HomeCard;

describe('the Home', () => {
  const show = async (home: object = {}, role: 'rep' | 'manager' | 'admin' = 'rep') => {
    const part = await showPart(HomePage, { role });
    const cards = [card(1), card(2, { kind: 'standings' }), card(3, { kind: 'lanes' })];
    await part.answer('/api/home', { cards, of: 'shipped', version: null, ...home });
    return part;
  };
  const names = (part: Part<HomePage>) => [...part.root.querySelectorAll('h2')].map(said);
  const arranged = (part: Part<HomePage>) => part.asked('/api/home');
  const answerOf = (cards: readonly HomeCard[], version: number): Home => ({
    ...{ cards: [...cards], of: 'own', version },
  });
  type Sent = { cards: HomeCard[]; version: number | null };

  test('is the cards in their order; arranged by keys each change is shown at once and undone', async () => {
    const part = await show();
    expect(names(part)).toEqual(['Leads by status', 'People by standing', 'Open deals by stage']);
    expect(() => part.button('Move Leads by status down')).toThrow();
    document.body.dispatchEvent(new KeyboardEvent('keydown', { key: 'e', bubbles: true }));
    await part.settle();
    await part.click(part.button('Move Leads by status down'));
    expect(names(part)[1]).toBe('Leads by status');
    const first = arranged(part);
    const sent = first.request.body as Sent;
    expect([sent.version, sent.cards.map((each) => each.id)]).toEqual([null, [id(2), id(1), id(3)]]);
    // Done while the first is on its way: it follows, with the version of the answer.
    await part.click(part.button('Take Open deals by stage off'));
    part.server.expectNone('/api/home');
    first.flush(answerOf(sent.cards, 1));
    await part.pass(0);
    const second = arranged(part);
    expect(second.request.body).toMatchObject({ version: 1 });
    expect((second.request.body as Sent).cards).toHaveLength(2);
    second.flush(answerOf((second.request.body as Sent).cards, 2));
    await part.pass(0);
    expect(names(part)).toEqual(['People by standing', 'Leads by status']);
    expect(said(document.body)).toContain('Open deals by stage is taken off.');
    expect(await part.undoOf(second)).toBeTruthy();
  });

  test('width, whose and a new card; a refused one is as it was, with the reason', async () => {
    const part = await show({ of: 'own', version: 4 });
    await part.click(part.button('Arrange'));
    await part.click(part.button('wide'));
    const asked = arranged(part);
    expect((asked.request.body as Sent).cards[0]).toMatchObject({ kind: 'leads', width: 2 });
    asked.flush(answerOf((asked.request.body as Sent).cards, 5));
    await part.pass(0);
    await part.click(part.button('the team’s'));
    expect((arranged(part).request.body as Sent).cards[0]).toMatchObject({ whose: 'team' });
  });

  test('arranged elsewhere meanwhile, it says so and shows what is', async () => {
    const part = await show({ of: 'own', version: 4 });
    await part.click(part.button('Arrange'));
    await part.click(part.button('Take Leads by status off'));
    await part.refuse('/api/home', { status: 409, code: 'stale', detail: 'It was changed.' });
    await part.answer('/api/home', answerOf([card(2, { kind: 'standings' })], 5));
    expect(names(part)).toEqual(['People by standing']);
    expect(said(document.body)).toContain('It was changed.');
  });

  test('empty it says how a card comes; an admin sets it for a role', async () => {
    const part = await show({ cards: [], of: 'own', version: 1 }, 'admin');
    expect(said(part.root)).toContain('Press Arrange, then Add a card.');
    await part.click(part.button('Arrange'));
    await part.click(part.button('Set it for a role'));
    const reps = [...document.querySelectorAll<HTMLButtonElement>('[role=menuitem]')].find(
      (each) => said(each) === 'all reps',
    )!;
    await part.click(reps);
    expect(part.asked('/api/home/roles/rep').request.body).toEqual({ cards: [] });
  });
});

describe('its cards', () => {
  test('today: done, left, late, what comes next, and the walk', async () => {
    const part = await showPart(TodayCard);
    await part.answer('/api/round', {
      header: { done: 3, left: 9, leftMinutes: 90, freeMinutes: 200 },
      counts: { late: 2 },
      above: [{ key: 'task:1', contactName: 'Maud Ellery', purpose: 'ask about the lift', reasons: [] }],
    });
    expect(said(part.root)).toContain('3 done9 left2 late');
    expect(said(part.root)).toContain('Maud Elleryask about the lift');
    expect(part.root.querySelector('progress')!.value).toBe(3);
  });

  const board = (part: object = {}) => ({
    month: '2026-11-01',
    elapsed: 0.5,
    total: {
      userId: 'me',
      name: 'Imogen Thorne',
      quotaMinor: 2_400_000,
      wonMinor: 600_000,
      expectedMinor: 900_000,
    },
    people: [],
    unconverted: 0,
    ...part,
  });

  test('the month: won of the quota, and what more is expected', async () => {
    const part = await showPart(MonthCard, { inputs: { whose: 'mine' } });
    const { request } = await part.answer('/api/quotas/board', board({ unconverted: 1 }));
    expect(request.params.get('month')).toBe('2026-11-01');
    expect(said(part.root)).toContain('£6,000 of £24,000');
    expect(said(part.root)).toContain(
      '25 % won, 50 % of the month’s working days over; £9,000 more expected',
    );
    expect(said(part.root)).toContain('1 deal in a currency without a rate');
  });

  test('without a quota a manager is led to set one', async () => {
    const part = await showPart(MonthCard, { inputs: { whose: 'team' }, role: 'manager' });
    await part.answer('/api/quotas/board', board({ total: { ...board().total, quotaMinor: null } }));
    expect(said(part.root)).toContain('Set quotas');
  });

  test('the forecast: expected, the range, the quota’s chance, and the deals it hangs on', async () => {
    const part = await showPart(ForecastCard, { inputs: { whose: 'mine' } });
    await part.answer('/api/home/forecast', {
      ...{ wonMinor: 100_000, open: 2, expectedMinor: 400_000, lowMinor: 100_000, highMinor: 900_000 },
      ...{ quotaMinor: 500_000, quotaChance: 0.4 },
      moves: [{ dealId: id(5), name: 'Second softener', minor: 800_000, chance: 0.4, ifWon: 1, ifLost: 0 }],
    });
    expect(said(part.root)).toContain('£4,000 expected');
    expect(said(part.root)).toContain('between £1,000 and £9,000: £1,000 won, 2 deals to close');
    expect(said(part.root)).toContain('Chance of the quota: 40 %');
    expect(said(part.root.querySelector('li')!)).toBe(
      'Second softener£8,000 × 40 % the quota’s chance: 100 % if won, 0 % if lost',
    );
  });

  const lines = (root: Element) => [...root.querySelectorAll('li')].map(said);
  const linkOf = (root: Element) => new URL(root.querySelector('a')!.href).searchParams;

  test('deals by stage lead to the list of the stage', async () => {
    const part = await showPart(LanesCard, { inputs: { whose: 'team' } });
    const groups = [{ key: id(1), name: 'Offer', count: 2, sums: { value: 500_000 } }];
    await part.answer('/api/deals/count', aCount(2, { groups }));
    expect(lines(part.root)).toEqual(['Offer2 · £5,000']);
    expect([linkOf(part.root).get('owner'), linkOf(part.root).get('filter')]).toEqual([
      'all',
      JSON.stringify({ join: 'all', rules: [{ field: 'stage', ask: 'is', value: id(1) }] }),
    ]);
  });

  test('leads by status: those that are due stand out, empty ones are left out', async () => {
    const part = await showPart(LeadsCard, { inputs: { whose: 'mine' } });
    const counts = [
      { status: 'untried', count: 3, due: 2 },
      { status: 'in-talks', count: 0, due: 0 },
    ];
    await part.answer('/api/leads/count', { ...aCount(3), counts });
    expect(lines(part.root)).toEqual(['untried2 due of 3']);
  });

  test('people by standing', async () => {
    const part = await showPart(StandingsCard);
    const standing = { id: id(2), name: 'Customer' };
    await part.answer('/api/standings', { standings: [{ standing, due: 0, all: 7 }] });
    expect(lines(part.root)).toEqual(['Customer7']);
  });

  test('renewals by window', async () => {
    const part = await showPart(RenewalsCard, { inputs: { whose: 'mine' } });
    const windows = [{ window: 'notice', count: 1, yearlyHomeMinor: 318_000 }];
    await part.answer('/api/renewals', { windows, months: [], owners: [] });
    expect(lines(part.root)).toEqual(['notice this month1 agreement · £3,180']);
  });

  test('nothing in them is said, with where to look', async () => {
    const leads = await showPart(LeadsCard, { inputs: { whose: 'mine' } });
    await leads.answer('/api/leads/count', { ...aCount(0), counts: [] });
    expect(said(leads.root)).toBe('No lead. Look in the pool');
  });

  const aView = { id: id(7), place: 'deals', name: 'Big ones', query: 'sort=-value&group=stage&cols=name' };
  const showView = async (shape: 'list' | 'chart', views: object[] = [aView]) => {
    const part = await showPart(ViewCard, { inputs: { viewId: id(7), shape } });
    for (const asked of part.server.match((each) => each.url === '/api/views'))
      asked.flush({ views: asked.request.params.get('place') === 'deals' ? views : [] });
    await part.pass(20);
    return part;
  };

  test('a saved view is asked for as its list asks, without columns, and says how many it finds', async () => {
    const part = await showView('list');
    const { request } = await part.answer('/api/deals/page', { rows: [] });
    expect(['sort', 'cols', 'group', 'limit'].map((key) => request.params.get(key))).toEqual([
      ...['-value', null, null, '8'],
    ]);
    await part.answer('/api/deals/count', aCount(0));
    expect(said(part.root)).toContain('Big ones 0 deals');
  });

  test('its groups are a chart; without groups it says how to get them', async () => {
    const part = await showView('chart');
    await part.answer('/api/deals/page', { rows: [] });
    const asked = part.asked('/api/deals/count');
    expect(asked.request.params.get('group')).toBe('stage');
    asked.flush(aCount(2, { groups: [{ key: id(1), name: 'Offer', count: 2, sums: {} }] }));
    await part.settle();
    expect(said(part.root.querySelector('details')!)).toContain('Offer');
  });

  test('one that was deleted says so', async () => {
    const part = await showView('list', []);
    expect(said(part.root)).toContain('This view was deleted, or is not shared any more.');
  });
});
