import type { AskReport, Report } from '@kettle/contract';
import { Router } from '@angular/router';
import { showPart, type Part } from '../../../testing/part';
import { MailDialog } from './mail-dialog';
import { MailingsList } from './mailings-list';
import { NumbersPage } from './numbers-page';
import { ReportCard } from './report-card';
import { ReportPanel } from './report-panel';
import { ReportTools } from './report-tools';

jest.mock('../../kit/chart-parts', () => ({
  Chart: class {
    data = { datasets: [] };
    update() {}
    destroy() {}
  },
}));

const said = (root: Element) => root.textContent.replace(/\s+/g, ' ').trim();
const ownerId = '01938f6c-0000-7000-8000-0000000000a1';
const viewId = '01938f6c-0000-7000-8000-0000000000f1';
const asked: AskReport = { kind: 'lost', period: 'this-month', whose: 'mine', by: 'reason' };

const aReport = (part: object = {}): Report => ({
  ...{ kind: 'lost', words: 'What do we win and lose?', by: 'reason', scope: 'Imogen Thorne' },
  period: { from: '2026-11-01', to: '2026-11-24' },
  before: { from: '2026-10-01', to: '2026-10-24' },
  columns: [
    { key: 'lost', words: 'lost', type: 'count', how: 'Deals that were lost in the period.', opens: true },
    { key: 'win-rate', words: 'won of closed', type: 'share', how: 'Won of those closed.', opens: true },
  ],
  rows: [
    {
      ...{ key: 'price', name: 'price', path: null },
      figures: [{ value: 14 }, { value: 0.5, low: 0.3, high: 0.7 }],
      before: [{ value: 12 }, { value: null }],
    },
  ],
  total: {
    ...{ key: '', name: 'all', path: null },
    figures: [{ value: 14 }, { value: 0.5, low: 0.3, high: 0.7 }],
    before: [{ value: 12 }, { value: null }],
  },
  figures: [],
  drawn: { as: 'bars', columns: ['lost'] },
  notes: ['A deal with several competitors is in the row of each.'],
  listsRecords: false,
  ...part,
});

const someRecords = {
  count: 14,
  records: [
    {
      ...{ id: viewId, name: 'Hotel Linde', path: `/deals/${viewId}`, under: 'Linde · Imogen Thorne' },
      ...{ on: '2026-11-03', minor: 100_000, words: 'lost at Offer: price' },
    },
  ],
};

async function show(answer: Report, inputs: object = {}): Promise<Part<ReportPanel>> {
  const part = await showPart(ReportPanel, { role: 'manager', inputs: { asked, ...inputs } });
  await part.answerAll('/api/pipelines', { pipelines: [] });
  await part.answerAll('/api/colleagues', { people: [] });
  await part.answer('/api/numbers/report', answer);
  return part;
}

describe('a report', () => {
  test('each figure with its bounds and the period before; what is not known of then is left out', async () => {
    const part = await show(aReport());
    const [row, total] = [...part.root.querySelectorAll('tbody tr')].map(said);
    expect(row).toBe('price 14 12 50 % 30 % – 70 %');
    expect(total).toContain('all 14');
    expect(said(part.root)).toContain(
      'Imogen Thorne · Sun 1 Nov – Tue 24 Nov, beside Thu 1 Oct – Sat 24 Oct',
    );
    expect(said(part.root)).toContain('A deal with several competitors');
    expect(said(part.root.querySelector('details')!)).toContain('Deals that were lost in the period.');
  });

  test('a press on a figure puts it into the address; its records are shown, each a link', async () => {
    const part = await show(aReport());
    const navigate = jest.spyOn(part.fixture.debugElement.injector.get(Router), 'navigate');
    await part.click(part.button('14: lost, price. Show them'));
    expect(navigate).toHaveBeenCalledWith(
      [],
      expect.objectContaining({ queryParams: { row: 'price', column: 'lost', when: null } }),
    );
    part.fixture.componentRef.setInput('row', 'price');
    part.fixture.componentRef.setInput('column', 'lost');
    await part.settle();
    const request = part.asked('/api/numbers/report/records');
    expect(request.request.params.get('row')).toBe('price');
    expect(request.request.params.get('column')).toBe('lost');
    request.flush(someRecords);
    await part.settle();
    const records = part.root.querySelector('.records')!;
    expect(said(records)).toContain('lost, price 14 records , the first 1 listed');
    expect(said(records)).toContain('Hotel LindeLinde · Imogen Thornelost at Offer: price');
    expect(records.querySelector('a')!.getAttribute('href')).toBe(`/deals/${viewId}`);
    await part.click(part.button('close'));
    expect(navigate).toHaveBeenLastCalledWith(
      [],
      expect.objectContaining({ queryParams: { row: null, column: null, when: null } }),
    );
  });

  test('a figure of the period before opens what it was then', async () => {
    const part = await show(aReport());
    const navigate = jest.spyOn(part.fixture.debugElement.injector.get(Router), 'navigate');
    await part.click(part.button('12: lost, all. Show them'));
    expect(navigate).toHaveBeenCalledWith(
      [],
      expect.objectContaining({ queryParams: { row: null, column: 'lost', when: 'before' } }),
    );
  });

  test('one that is of each record lists them all', async () => {
    const part = await show(aReport({ listsRecords: true }));
    const request = part.asked('/api/numbers/report/records');
    expect(request.request.params.has('column')).toBe(false);
    request.flush(someRecords);
    await part.settle();
    expect(said(part.root.querySelector('.records')!)).toContain('Each of them');
  });

  test('another period, whose, and other rows are asked by the address', async () => {
    const part = await show(aReport());
    const navigate = jest.spyOn(part.fixture.debugElement.injector.get(Router), 'navigate');
    const query = () => navigate.mock.calls.at(-1)![1]!.queryParams;
    await part.choose('Period', 'last quarter');
    expect(query()).toMatchObject({ period: 'last-quarter', from: null, row: null });
    await part.choose('Period', 'from … to …');
    expect(query()).toMatchObject({ period: 'days', from: '2026-11-01', to: '2026-11-30' });
    await part.choose('Whose', 'the team’s');
    expect(query()).toMatchObject({ whose: 'team' });
    await part.choose('Rows', 'by competitor');
    expect(query()).toMatchObject({ by: 'competitor' });
  });

  test('with nothing in it, it says what to do; a refusal is said, and tried again', async () => {
    const part = await show(aReport({ rows: [], total: null }));
    expect(said(part.root)).toContain('Nothing in itChoose another period, or whose it is to be.');
    part.fixture.componentRef.setInput('asked', { ...asked, whose: ownerId });
    await part.settle();
    await part.refuse('/api/numbers/report', {
      status: 403,
      code: 'not-allowed',
      detail: 'You may not do that.',
    });
    expect(said(part.root)).toContain('You may not do that.');
    await part.click(part.button('Try again'));
    expect(part.asked('/api/numbers/report').request.params.get('whose')).toBe(ownerId);
  });
});

test('as a file it is the same question', async () => {
  const part = await showPart(ReportTools, { role: 'admin', inputs: { asked } });
  await part.click(part.button('export'));
  const links = [...document.querySelectorAll<HTMLAnchorElement>('a[mat-menu-item]')];
  expect(links.map((link) => [said(link), link.getAttribute('href')])).toEqual(
    ['csv', 'xlsx', 'pdf'].map((as) => [
      as.toUpperCase(),
      `/api/numbers/report/file?kind=lost&period=this-month&whose=mine&by=reason&as=${as}`,
    ]),
  );
  document.querySelectorAll('.cdk-overlay-container').forEach((each) => each.remove());
});

test('pinned to Home its view is saved under a free name, and is the first card; undone in one press', async () => {
  const part = await showPart(ReportTools, { inputs: { asked } });
  await part.click(part.button('pin to Home'));
  const view = { name: 'What do we win and lose? this month', query: 'part=other' };
  await part.answer('/api/views', { views: [view] });
  const save = await part.awaited('/api/views');
  expect(save.request.body).toEqual({
    place: 'numbers',
    name: 'What do we win and lose? this month 2',
    query: 'part=lost&period=this-month&by=reason',
  });
  save.flush({ ...view, id: viewId, name: 'What do we win and lose? this month 2' });
  await part.settle();
  (await part.awaited('/api/home')).flush({ cards: [], of: 'own', version: 3 });
  await part.settle();
  const arranged = await part.awaited('/api/home');
  expect(arranged.request.body).toMatchObject({
    cards: [{ kind: 'view', viewId, as: 'chart', width: 2 }],
    version: 3,
  });
  arranged.flush({ cards: [], of: 'own', version: 4 });
  await part.settle();
  expect(document.body.textContent).toContain('is the first card on Home.');
});

test('by mail: to those who may read it, now or each Monday; who may not is named at the field', async () => {
  const part = await showPart(MailDialog, { data: { report: asked, name: 'Losses' } });
  await part.answer('/api/numbers/report/readers', { people: [{ id: ownerId, name: 'Corin Vale' }] });
  await part.choose('To', 'Corin Vale');
  await part.choose('When', 'each Monday at seven');
  part.root.querySelector('form')!.dispatchEvent(new Event('submit'));
  await part.settle();
  const request = part.asked('/api/numbers/mailings');
  expect(request.request.body).toEqual({ report: asked, name: 'Losses', to: [ownerId], when: 'mondays' });
  request.flush(
    {
      ...{
        type: '',
        title: '',
        status: 400,
        requestId: '',
        code: 'invalid-request',
        detail: 'Check the marked fields.',
      },
      fields: [{ path: 'to', message: 'names Corin Vale, who may not read all it is of' }],
    },
    { status: 400, statusText: 'refused' },
  );
  await part.settle();
  expect(said(part.root)).toContain('names Corin Vale, who may not read all it is of');
});

test('what is sent each Monday is listed, and removed with an undo', async () => {
  const part = await showPart(MailingsList);
  await part.answer('/api/numbers/mailings', {
    mailings: [
      {
        id: viewId,
        name: 'Losses',
        words: 'What do we win and lose? · this month',
        to: [{ id: ownerId, name: 'Corin Vale' }],
      },
    ],
  });
  expect(said(part.root)).toBe('Sent each Monday Losses What do we win and lose? · this month · Corin Vale');
  await part.click(part.button('No longer send Losses'));
  await part.answer(`/api/numbers/mailings/${viewId}`, { ok: true });
  expect(document.body.textContent).toContain('“Losses” is no longer sent.');
});

test('a pinned report is its picture or its first rows, and leads to all of it', async () => {
  const view = {
    id: viewId,
    place: 'numbers',
    name: 'Losses',
    query: 'part=lost&period=this-month',
  } as never;
  const part = await showPart(ReportCard, { inputs: { view, shape: 'list' } });
  await part.answer('/api/numbers/report', aReport());
  expect(said(part.root)).toBe('Losses this monthprice14');
  expect(part.root.querySelector('a')!.getAttribute('href')).toBe('/numbers?part=lost&period=this-month');
});

describe('the page', () => {
  test('its questions are links that keep period, people and pipeline; the one in the address is shown', async () => {
    const part = await showPart(NumbersPage, {
      inputs: { part: 'lost', period: 'last-month', whose: 'team' },
    });
    const links = [...part.root.querySelectorAll('nav a')];
    expect(links.map(said)).toHaveLength(13);
    expect(links.find((link) => said(link) === 'Do customers stay?')!.getAttribute('href')).toBe(
      '/numbers?part=retention&period=last-month&whose=team',
    );
    expect(said(part.root.querySelector('[aria-current=page]')!)).toBe('What do we win and lose?');
    expect(part.asked('/api/numbers/report').request.params.get('period')).toBe('last-month');
  });

  test('a named period of the forecast is its months', async () => {
    const part = await showPart(NumbersPage, { inputs: { part: 'make-it', period: 'this-quarter' } });
    expect(part.asked('/api/numbers/forecast').request.body).toMatchObject({ from: '2026-10-01', months: 3 });
  });
});
