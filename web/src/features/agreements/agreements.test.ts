import type { AgreementRow } from '@kettle/contract';
import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { Router } from '@angular/router';
import { aCount, showPart } from '../../../testing/part';
import { Notices } from '../../services/notices';
import { GridPicks } from '../grid/index';
import { AgreementDialog } from './agreement-dialog';
import { AgreementPage } from './agreement-page';
import { EndDialog } from './end-dialog';
import { RenewPicked } from './renew-picked';
import { RenewalsPage } from './renewals-page';
import { RetentionPanel } from './retention-panel';
import { ValueDialog } from './value-dialog';

/** jsdom lays nothing out: the viewport is told a height, so that it renders rows. */
jest.mock('../../kit/chart-parts', () => ({
  Chart: class {
    destroy() {
      // Nothing was drawn.
    }
  },
}));
beforeEach(() => {
  jest.spyOn(HTMLCanvasElement.prototype, 'getContext').mockReturnValue(null);
  Object.defineProperty(HTMLElement.prototype, 'clientHeight', { configurable: true, value: 400 });
});
const said = (root: HTMLElement) => root.textContent.replace(/\s+/g, ' ');
const address = () => new URL(TestBed.inject(Router).url, 'http://kettle.test').searchParams;
const anAgreement = (part: object = {}): AgreementRow =>
  ({
    id: 'a1',
    name: 'Softener care',
    contactId: 'c1',
    companyName: 'Pell Spa',
    currency: 'GBP',
    startsOn: '2026-01-10',
    endsOn: '2027-01-09',
    leadOn: '2026-11-10',
    noticeDeadlineOn: '2026-12-10',
    termMonths: 12,
    valueMinor: 240_000,
    yearlyMinor: 240_000,
    homeMinor: 240_000,
    yearlyHomeMinor: 240_000,
    ...{ state: 'running', decision: 'open', leavesOn: null, ownerId: 'me', ownerName: 'Imogen Thorne' },
    ...{ termStartsOn: '2026-01-10', termNumber: 1, upliftKind: 'none', upliftBy: 0, version: 3 },
    ...{ checkInMonths: null, signerId: null, renewalDealId: null, archivedAt: null, noticeDays: 30 },
    ...{ leadDays: 30, renewsItself: true, companyId: null, contactName: 'Nora Pell', endReason: null },
    ...part,
  }) as AgreementRow;
const windows = ['lead', 'notice', 'over', 'renewed', 'lost'].map((window, at) => ({
  ...{ window, count: at, yearlyHomeMinor: 10_000 * at },
}));
const ahead = {
  ...{
    windows,
    unvalued: 0,
    owners: [{ userId: 'me', name: 'Imogen Thorne', count: 3, yearlyHomeMinor: 300_000 }],
  },
  months: Array.from({ length: 12 }, (_, at) => ({
    ...{ month: `2026-${String(at + 1).padStart(2, '0')}-01`, count: 1, openMinor: 100_000, renewedMinor: 0 },
    ...{ leavingMinor: 0, atRiskMinor: 12_000 },
  })),
};

describe('renewals', () => {
  const show = async (rows: readonly AgreementRow[], inputs: object = {}) => {
    const part = await showPart(RenewalsPage, { inputs: { ...inputs } });
    await part.answerAll('/api/agreements/count', aCount(rows.length));
    await part.answerAll('/api/agreements', { rows });
    await part.answerAll('/api/renewals', ahead);
    await part.pass(50);
    return part;
  };

  test('where agreements are on their way is counted, and a press shows those alone', async () => {
    const part = await show([anAgreement()]);
    const shown = [...part.root.querySelectorAll<HTMLElement>('.windows button')];
    expect(shown.map((each) => said(each).trim())).toEqual([
      'to talk about0£0',
      'notice this month1£100',
      'over2£200',
      'renewed3£300',
      'lost4£400',
    ]);
    await part.click(shown[2]!);
    await part.pass(0);
    expect(address().get('window')).toBe('over');
  });

  test('what is at stake is drawn by month and told by owner, without a search', async () => {
    const part = await show([anAgreement()], { as: 'at stake' });
    expect(said(part.root)).toContain(
      'Open in the next twelve months: £12,000 a year, of which £1,440 is likely to go.',
    );
    expect(part.root.querySelector('kettle-grid-search')).toBeNull();
    expect(said(part.root)).toContain('Imogen Thorne');
    // A bar opens its agreements, also from the table of its numbers.
    const pressed = part.root.querySelectorAll<HTMLButtonElement>(
      'kettle-chart tbody tr:nth-child(2) button',
    )[0]!;
    await part.click(pressed);
    await part.pass(50);
    expect(address().get('as')).toBe('list');
    const { rules } = JSON.parse(address().get('filter')!) as { rules: { field: string; value: string }[] };
    expect(rules.slice(0, 3).map(({ field, value }) => [field, value])).toEqual([
      ['notice', '2026-01-31'],
      ['notice', '2026-03-01'],
      ['decision', 'open'],
    ]);
  });

  test('one that is over presses, one that leaves says when, and neither counts among what a year brings twice', async () => {
    const part = await show([
      anAgreement({ state: 'over', endsOn: '2026-11-12', noticeDeadlineOn: '2026-10-12' }),
      anAgreement({ id: 'a2', decision: 'leaving', leavesOn: '2027-01-09' }),
      anAgreement({ id: 'a3', decision: 'renewed' }),
    ]);
    const when = [...part.root.querySelectorAll('.when')];
    expect(when.map((each) => [said(each as HTMLElement).trim(), each.classList.contains('now')])).toEqual([
      ['over since Thu 12 Nov', true],
      ['leaves Sat 9 Jan 2027', false],
      ['renewed', false],
    ]);
    expect(said(part.root)).toContain('3 agreements · £4,800 a year');
  });

  test('the head adds up what a year brings, and says what has no rate', async () => {
    const part = await show([
      anAgreement(),
      anAgreement({
        id: 'a2',
        termMonths: 6,
        valueMinor: 30_000,
        homeMinor: 30_000,
        yearlyHomeMinor: 60_000,
      }),
      anAgreement({ id: 'a3', currency: 'CHF', homeMinor: null, yearlyHomeMinor: null }),
    ]);
    expect(said(part.root)).toContain('3 agreements · £3,000 a year· 1 without a rate not counted');
  });

  test('the line of each is told in words, and a deadline that presses or is over is marked', async () => {
    const part = await show([
      anAgreement(),
      anAgreement({ id: 'a2', noticeDeadlineOn: '2026-11-01', leadOn: '2026-10-01' }),
      anAgreement({ id: 'a3', noticeDeadlineOn: '2027-06-01', leadOn: '2027-05-01', endsOn: '2027-08-01' }),
    ]);
    const when = [...part.root.querySelectorAll('.when')];
    expect(when.map((each) => [said(each as HTMLElement).trim(), each.classList.contains('now')])).toEqual([
      ['notice Thu 10 Dec', true],
      ['notice is over', false],
      ['notice Tue 1 Jun 2027', false],
    ]);
    expect(part.root.querySelector('svg')!.getAttribute('aria-label')).toContain('notice until 2026-12-10');
  });

  test('where there is none it says where they are made, and shows everyone’s by a press', async () => {
    const part = await show([]);
    expect(said(part.root)).toContain('No agreement here');
    await part.click(part.button('show everyone’s'));
    await part.pass(0);
    expect(address().get('owner')).toBe('all');
  });

  test('a line of months whose address asks for what is gone offers everything, as a list does', async () => {
    const part = await showPart(RenewalsPage, { inputs: { filter: 'gone' } });
    await part.answerAll('/api/agreements/count', aCount(0));
    await part.refuse('/api/agreements', {
      status: 400,
      code: 'invalid-request',
      detail: 'Check the marked fields.',
    });
    expect(said(part.root)).toContain('asks for something that is not there any more');
    expect(said(part.root)).not.toContain('marked fields');
    expect(part.button('Show everything')).toBeTruthy();
  });

  test('the list is one press away, with what a list can do', async () => {
    const part = await show([anAgreement()], { as: 'list' });
    expect(part.root.querySelector('kettle-record-grid')).not.toBeNull();
    expect(part.button('list').getAttribute('aria-pressed')).toBe('true');
    await part.click(part.button('timeline'));
    await part.pass(0);
    expect(address().get('as')).toBeNull();
  });
});

describe('a new agreement', () => {
  const show = () =>
    showPart(AgreementDialog, {
      data: {
        contact: { id: 'c1', name: 'Nora Pell', companyName: 'Pell Spa' },
        deal: { id: 'd1', name: 'Softener', amountMinor: 400_000, currency: 'GBP' },
      },
    });

  test('starts from the deal, and is sent once with both', async () => {
    const part = await show();
    expect(part.field('Value of the term').value).toBe('4,000');
    await part.type(part.field('Term'), '24');
    await part.click(part.button('Create agreement'));
    await part.click(part.button('Create agreement'));
    const { request } = await part.answer('/api/agreements', anAgreement());
    expect(request.body).toMatchObject({
      ...{ name: 'Softener', startsOn: '2026-11-24', termMonths: 24, valueMinor: 400_000, currency: 'GBP' },
      ...{ noticeDays: 60, leadDays: 30, renewsItself: true, contactId: 'c1', dealId: 'd1' },
      ...{ upliftKind: 'none', upliftBy: 0, checkInMonths: null, signerId: null },
    });
    expect(part.closedWith).toHaveLength(1);
  });

  test('a term out of bounds is told at its field, in months, and nothing is sent', async () => {
    const part = await show();
    await part.type(part.field('Term'), '0');
    await part.click(part.button('Create agreement'));
    part.server.expectNone('/api/agreements');
    expect(part.field('Term').getAttribute('aria-invalid')).toBe('true');
    expect(said(part.root)).toContain('1');
    expect(part.closedWith).toEqual([]);
  });
});

describe('what an agreement says is changed', () => {
  test('with what the next term costs more, in hundredths of a per cent; its currency stays', async () => {
    const part = await showPart(AgreementDialog, {
      data: { agreement: anAgreement({ upliftKind: 'percent', upliftBy: 350 }) },
    });
    expect(part.field('More by').value).toBe('3.5');
    await part.type(part.field('More by'), '4.25');
    await part.click(part.button('Save'));
    const { request } = await part.answer('/api/agreements/a1', anAgreement());
    expect(request.method).toBe('PUT');
    expect(request.body).toMatchObject({ version: 3, upliftKind: 'percent', upliftBy: 425, termMonths: 12 });
    expect(request.body).not.toHaveProperty('currency');
  });

  test('more or less from a day on', async () => {
    const part = await showPart(ValueDialog, { data: anAgreement() });
    await part.type(part.field('A whole term brings'), '3,000');
    await part.type(part.field('Why'), 'a second softener');
    await part.click(part.button('Change the value'));
    const { request } = await part.answer('/api/agreements/a1/changes', aDetail());
    expect(request.body).toEqual({
      version: 3,
      on: '2026-11-24',
      valueMinor: 300_000,
      words: 'a second softener',
    });
    expect(part.closedWith).toHaveLength(1);
  });

  test('a day that the server refuses is told there, and what was typed stays', async () => {
    const part = await showPart(ValueDialog, { data: anAgreement() });
    await part.type(part.field('A whole term brings'), '3,000');
    await part.click(part.button('Change the value'));
    await part.refuse('/api/agreements/a1/changes', {
      ...{ status: 400, code: 'invalid-request', detail: 'Check the marked fields.' },
      fields: [{ path: 'on', message: 'lies before the start' }],
    });
    expect(said(part.root)).toContain('lies before the start');
    expect(part.field('A whole term brings').value).toBe('3,000');
    expect(part.closedWith).toEqual([]);
  });

  test('a notice that came too late says until when it has renewed itself', async () => {
    const part = await showPart(EndDialog, {
      data: aDetail({ noticeToday: { leavesOn: '2028-01-09', isLate: true } }),
    });
    expect(said(part.root)).toContain('it has renewed itself until Sun 9 Jan 2028');
    await part.type(part.field('Why'), 'price');
    await part.click(part.button('End it'));
    const { request } = await part.answer('/api/agreements/a1/end', aDetail());
    expect(request.body).toMatchObject({
      ...{ version: 3, by: 'customer', noticeOn: '2026-11-24', leavesOn: '2028-01-09', reason: 'price' },
    });
  });
});

const aDetail = (part: object = {}, agreement: object = {}) => ({
  agreement: anAgreement(agreement),
  ...{ endWords: '', signerName: null, deal: null, changes: [], lines: [] },
  terms: [
    {
      ...{ number: 1, startsOn: '2026-01-10', endsOn: '2027-01-09', months: 12, valueMinor: 240_000 },
      ...{ yearlyMinor: 240_000, how: 'first', deal: null, renewalDeal: null },
    },
  ],
  next: { startsOn: '2027-01-09', endsOn: '2028-01-09', valueMinor: 252_000 },
  noticeToday: { leavesOn: '2027-01-09', isLate: false },
  risk: {
    ...{ chance: 0.25, base: 0.1, decided: 20, lost: 2 },
    factors: [{ words: 'their first term', times: 1.5 }],
  },
  ...part,
});

describe('the page of an agreement', () => {
  const show = async (detail: object = aDetail()) => {
    const part = await showPart(AgreementPage, { inputs: { id: 'a1' } });
    await part.answerAll('/api/agreements/a1', detail);
    await part.answerAll('/api/files', { files: [] });
    await part.pass(20);
    return part;
  };

  test('says what it is, what follows, and how likely they leave with what that is made of', async () => {
    const words = said((await show()).root);
    expect(words).toContain('notice until in 16 days · Thu 10 Dec');
    expect(words).toContain('renews itself for£2,520until Sun 9 Jan 2028');
    expect(words).toContain('Chance that they leave: 25 %');
    expect(words).toContain('their first term');
    expect(words).toContain('× 1.50');
    expect(words).toContain('2 of 20 lost in two years');
  });

  test('begins its renewal by a press, and goes to the deal', async () => {
    const part = await show();
    await part.click(part.button('Begin the renewal'));
    const { request } = await part.answer('/api/renewals', { dealId: 'd9' });
    expect(request.body).toEqual({ agreementIds: ['a1'] });
    await part.pass(0);
    expect(TestBed.inject(Router).url).toBe('/deals/d9');
  });

  test('one that leaves stays by a press', async () => {
    const leaving = { decision: 'leaving', leavesOn: '2027-01-09', endReason: 'price' };
    const part = await show(aDetail({ risk: null, next: null }, leaving));
    expect(said(part.root)).toContain('price');
    await part.click(part.button('They stay'));
    const { request } = await part.answer('/api/agreements/a1/keep', aDetail());
    expect(request.body).toEqual({ version: 3 });
    await part.settle();
    expect(said(part.root)).toContain('notice until');
  });

  test('one that is not there says so', async () => {
    const part = await showPart(AgreementPage, { inputs: { id: 'a1' } });
    await part.refuse('/api/agreements/a1', {
      status: 404,
      code: 'not-found',
      detail: 'It is not here any more.',
    });
    expect(said(part.root)).toContain('It is not here any more.');
  });
});

describe('retention', () => {
  const month = {
    ...{
      start: 100_000,
      new: 8_000,
      back: 0,
      expansion: 12_000,
      contraction: 5_000,
      churn: 10_000,
      end: 105_000,
    },
    ...{ gross: 0.85, net: 0.97 },
  };
  const show = async () => {
    const part = await showPart(RetentionPanel, { inputs: { owner: 'all' } });
    await part.answerAll('/api/renewals/retention', {
      months: [{ month: '2026-11-01', ...month }],
      whole: { month: '2025-12-01', ...month },
      ...{
        cohorts: [{ month: '2026-01-01', customers: 2, values: [1_000, 1_000, 1_000, 800] }],
        unvalued: 1,
      },
    });
    await part.pass(20);
    return part;
  };

  test('is told in shares and as figures that add up, and what has no rate', async () => {
    const words = said((await show()).root);
    expect(words).toContain('gross 85 % stayed');
    expect(words).toContain('net 97 % with what they took more of');
    expect(words).toContain('from £1,000 to £1,050 a year');
    expect(words).toContain('1 without a rate not counted');
    expect(words).toContain('80 %');
  });

  test('each figure opens the customers behind it', async () => {
    const part = await show();
    await part.click(part.button('−£100'));
    const { request } = await part.answer('/api/renewals/retention/records', {
      rows: [
        {
          ...{ contactId: null, companyId: 'f1', name: 'Pell Spa', before: 10_000, after: 0 },
          agreements: [{ id: 'a1', name: 'Softener care', endReason: 'price' }],
        },
      ],
    });
    expect(request.params.get('kind')).toBe('churn');
    await part.settle();
    expect(said(part.root)).toContain('left, Nov 2026');
    expect(said(part.root)).toContain('Pell Spa');
  });

  test('another span is read anew', async () => {
    const part = await show();
    await part.click(part.button('3 months'));
    const { request } = await part.answer('/api/renewals/retention', {
      ...{ months: [], whole: { month: '2026-09-01', ...month }, cohorts: [], unvalued: 0 },
    });
    expect([request.params.get('from'), request.params.get('months')]).toEqual(['2026-09-01', '3']);
  });
});

describe('several picked agreements', () => {
  const show = (rows: readonly AgreementRow[]) => {
    const picks = {
      ...{ isAll: signal(false), areOthers: signal(false), count: () => rows.length, rows: () => rows },
      none: jest.fn(),
    };
    return showPart(RenewPicked, { providers: [{ provide: GridPicks, useValue: picks }] });
  };

  test('are renewed in one deal, which is gone to', async () => {
    const part = await show([anAgreement(), anAgreement({ id: 'a2' })]);
    await part.click(part.button('Renew together'));
    const { request } = await part.answer('/api/renewals', { dealId: 'd9' });
    expect(request.body).toEqual({ agreementIds: ['a1', 'a2'] });
    await part.pass(0);
    expect(TestBed.inject(Router).url).toBe('/deals/d9');
  });

  test('of several customers are refused in words', async () => {
    const part = await show([anAgreement(), anAgreement({ id: 'a2' })]);
    const say = jest.spyOn(TestBed.inject(Notices), 'say').mockReturnValue();
    await part.click(part.button('Renew together'));
    await part.refuse('/api/renewals', {
      ...{ status: 400, code: 'invalid-request', detail: 'Check the marked fields.' },
      fields: [{ path: 'agreementIds', message: 'are of several customers; renew those of one at a time' }],
    });
    expect(say).toHaveBeenCalledWith(
      'Not begun: what you picked are of several customers; renew those of one at a time',
    );
  });

  test('one alone has its own page for that', async () => {
    expect((await show([anAgreement()])).root.textContent).toBe('');
  });
});
