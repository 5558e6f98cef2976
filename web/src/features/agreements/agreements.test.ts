import type { AgreementRow } from '@kettle/contract';
import { TestBed } from '@angular/core/testing';
import { Router } from '@angular/router';
import { aCount, showPart } from '../../../testing/part';
import { AgreementDialog } from './agreement-dialog';
import { RenewalsPage } from './renewals-page';

/** jsdom lays nothing out: the viewport is told a height, so that it renders rows. */
beforeEach(() => {
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
    homeMinor: 240_000,
    ...part,
  }) as AgreementRow;

describe('renewals', () => {
  const show = async (rows: readonly AgreementRow[], inputs: object = {}) => {
    const part = await showPart(RenewalsPage, { inputs: { ...inputs } });
    await part.answerAll('/api/agreements/count', aCount(rows.length));
    await part.answerAll('/api/agreements', { rows });
    await part.pass(50);
    return part;
  };

  test('the head adds up what a year brings, and says what has no rate', async () => {
    const part = await show([
      anAgreement(),
      anAgreement({ id: 'a2', termMonths: 6, valueMinor: 30_000, homeMinor: 30_000 }),
      anAgreement({ id: 'a3', currency: 'CHF', homeMinor: null }),
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
