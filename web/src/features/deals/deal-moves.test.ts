import { TestBed } from '@angular/core/testing';
import type { DealRow } from '@kettle/contract';
import { aDealRow, aWholeDeal, pipeline } from '../../../testing/deals';
import { showPart, type Part } from '../../../testing/part';
import { Notices } from '../../services/notices';
import { CloseDealDialog } from './close-deal-dialog';
import { DealDialogs } from './deal-dialogs';
import { DealLanes } from './deal-lanes';
import { DealsPage } from './deals-page';
import { MoveDealDialog } from './move-deal-dialog';

const said = (root: Element) => root.textContent.replace(/\s+/g, ' ');
const many = (count: number, part: (n: number) => object = () => ({})) =>
  Array.from({ length: count }, (_, n) =>
    aDealRow({
      id: `d${n}`,
      name: `Deal ${n}`,
      companyName: `Firm ${n}`,
      amountMinor: (100 - n) * 100_000,
      homeMinor: (100 - n) * 100_000,
      ...part(n),
    }),
  );
const names = (root: Element) =>
  [...root.querySelectorAll('.deal .name')].map((each) => each.textContent.trim());
const altPress = (root: Element, id: string, key: string) =>
  root
    .querySelector(`[data-deal="${id}"] .name`)!
    .dispatchEvent(new KeyboardEvent('keydown', { key, altKey: true, bubbles: true, cancelable: true }));

describe('many deals in one month', () => {
  const show = (rows: DealRow[], part: object = {}) =>
    showPart(DealLanes, { inputs: { pipeline, rows, ...part } });

  test('stand behind a count with their value, the first of them drawn', async () => {
    const { root } = await show(many(12));
    expect(names(root)).toEqual(['Firm 0', 'Firm 1', 'Firm 2', 'Firm 3', 'Firm 4']);
    // 95 + 94 + … + 89 thousand.
    expect(said(root.querySelector('.fold')!)).toContain('7 more · 644k');
    expect(said(root.querySelector('.stage')!)).toContain('12 deals');
  });

  test('open on a press and fold again', async () => {
    const part = await show(many(12));
    const fold = part.button(/7 more/);
    expect(fold.getAttribute('aria-expanded')).toBe('false');
    await part.click(fold);
    expect(names(part.root)).toHaveLength(12);
    await part.click(part.button('fewer'));
    expect(names(part.root)).toHaveLength(5);
  });

  test('six are all drawn: a count of one would take the same place', async () => {
    const { root } = await show(many(6));
    expect(names(root)).toHaveLength(6);
    expect(root.querySelector('.fold')).toBeNull();
  });

  test('never hide the one that is open beside, or one that is on its way', async () => {
    const rows = many(12);
    const move = { deal: rows[9]!, stageId: 'Inquiry', expectedCloseOn: rows[9]!.expectedCloseOn };
    const { root } = await show(rows, { chosen: 'd11', moving: new Map([['d9', move]]) });
    expect(names(root)).toEqual(['Firm 0', 'Firm 1', 'Firm 2', 'Firm 3', 'Firm 4', 'Firm 9', 'Firm 11']);
    expect(said(root.querySelector('.fold')!)).toContain('5 more');
  });

  test('a column without deals gives its room to the others', async () => {
    const { root } = await show([aDealRow()]);
    const tracks = root.querySelector<HTMLElement>('.lanes')!.style.getPropertyValue('--tracks');
    const wide = tracks.split(') ').map((track) => track.includes('1fr'));
    expect(wide).toEqual([false, false, true, false, false, false, false]);
  });
});

describe('on the page', () => {
  const show = async (rows = [aDealRow()]) => {
    const part = await showPart(DealsPage);
    document.body.append(part.root);
    await part.answer('/api/pipelines', { pipelines: [pipeline] });
    await part.answer('/api/deals', { pipelines: [pipeline], rows, hidden: 0 });
    return part;
  };
  afterEach(() => document.querySelectorAll('kettle-deals-page').forEach((each) => each.remove()));
  const press = async (part: Part<DealsPage>, key: string) => {
    (document.activeElement ?? document.body).dispatchEvent(
      new KeyboardEvent('keydown', { key, bubbles: true }),
    );
    await part.settle();
  };
  const stageOf = (part: Part<DealsPage>) =>
    part.root.querySelector('[data-deal="d1"]')!.closest('.lane')!.getAttribute('aria-label');

  test('U draws every deal, and folds them again', async () => {
    const part = await show(many(12));
    expect(names(part.root)).toHaveLength(5);
    await press(part, 'u');
    expect(names(part.root)).toHaveLength(12);
    expect(part.root.querySelector('.fold')).toBeNull();
    await press(part, 'u');
    expect(names(part.root)).toHaveLength(5);
  });

  test('the focus goes with a deal that the keys move, also back when it is refused', async () => {
    const part = await show();
    part.root.querySelector<HTMLElement>('.deal .name')!.focus();
    altPress(part.root, 'd1', 'ArrowDown');
    await part.settle();
    expect(stageOf(part)).toBe('Survey');
    expect(document.activeElement!.closest('[data-deal]')!.getAttribute('data-deal')).toBe('d1');
    await part.refuse('/api/deals/d1/move', { status: 409, code: 'stale', detail: 'Changed.' });
    expect(stageOf(part)).toBe('Inquiry');
    expect(document.activeElement!.closest('[data-deal]')!.getAttribute('data-deal')).toBe('d1');
  });

  test('who takes the mouse keeps the focus where they put it', async () => {
    const part = await show();
    part.root.querySelector<HTMLElement>('.deal .name')!.focus();
    altPress(part.root, 'd1', 'ArrowDown');
    await part.settle();
    (document.activeElement as HTMLElement).blur();
    document.body.dispatchEvent(new Event('pointerdown', { bubbles: true }));
    await part.answer('/api/deals/d1/move', aDealRow({ stageId: 'Survey', version: 5 }));
    expect(document.activeElement).toBe(document.body);
  });

  test('moved again while it is on its way, it goes on from the version the first move made', async () => {
    const part = await show();
    altPress(part.root, 'd1', 'ArrowRight');
    await part.settle();
    const first = part.asked('/api/deals/d1/move');
    altPress(part.root, 'd1', 'ArrowRight');
    await part.settle();
    expect(() => part.asked('/api/deals/d1/move')).toThrow('nothing was asked');
    first.flush(aDealRow({ version: 5, expectedCloseOn: '2027-01-10' }));
    await part.settle();
    const second = part.asked('/api/deals/d1/move');
    expect(second.request.body).toEqual({ version: 5, stageId: 'Inquiry', expectedCloseOn: '2027-02-10' });
    second.flush(aDealRow({ version: 6, expectedCloseOn: '2027-02-10' }));
    await part.settle();
    expect(document.body.textContent).toContain('Hotel Linde: softener: Inquiry, Wed 10 Feb 2027.');
    // Both moves are undone.
    await TestBed.inject(Notices).undoLast();
    await part.settle();
    const idOf = (asked: typeof first) => asked.request.headers.get('X-Change-Id')!;
    part.asked(`/api/changes/${idOf(second)}/undo`).flush({ words: 'Undone.' });
    await part.settle();
    part.asked(`/api/changes/${idOf(first)}/undo`).flush({ words: 'Undone.' });
    await part.settle();
    expect(document.body.textContent).toContain('Undone.');
  });

  test('a key waits for a move to arrive, so that it acts on what is there then', async () => {
    const part = await show();
    const open = jest.spyOn(TestBed.inject(DealDialogs), 'close').mockResolvedValue();
    part.root.querySelector<HTMLElement>('.deal .name')!.focus();
    altPress(part.root, 'd1', 'ArrowDown');
    await part.settle();
    await press(part, 'p');
    expect(open).not.toHaveBeenCalled();
    await part.answer('/api/deals/d1/move', aDealRow({ version: 5, stageId: 'Survey' }));
    await part.pass(5);
    expect(open).toHaveBeenCalledWith(expect.objectContaining({ id: 'd1', version: 5 }), 'parked');
  });
});

describe('moving by the dialog', () => {
  const show = async () => {
    const part = await showPart(MoveDealDialog, { data: { deal: aDealRow(), stageId: 'Survey' } });
    await part.answer('/api/pipelines', { pipelines: [pipeline] });
    return part;
  };

  test('what another changed meanwhile is shown, and the next try goes over it knowingly', async () => {
    const part = await show();
    await part.type(part.field('Expected close'), '2027-01-15');
    await part.click(part.button('Move it'));
    await part.refuse('/api/deals/d1/move', {
      status: 409,
      code: 'stale',
      detail: 'Somebody changed this while you worked on it.',
      current: aDealRow({ stageId: 'Survey', expectedCloseOn: null, version: 9 }),
    });
    expect(said(part.root)).toContain('Now: Survey, closes no date');
    await part.click(part.button('Move it'));
    expect(part.asked('/api/deals/d1/move').request.body).toMatchObject({
      version: 9,
      expectedCloseOn: '2027-01-15',
    });
  });

  test('product lines are asked for here, and what is wrong in one stands beside it', async () => {
    const part = await show();
    await part.click(part.button('Move it'));
    const refusal = { status: 422, code: 'facts-needed', detail: 'The stage asks for product lines.' };
    await part.refuse('/api/deals/d1/move', { ...refusal, current: { facts: ['lines'] } });
    await part.click(part.button('Add a product line'));
    await part.type(part.field('Line 1: what'), 'Softener');
    await part.type(part.field('Line 1: quantity'), '0');
    await part.type(part.field('Line 1: price'), '385');
    await part.click(part.button('Move it'));
    const fields = [{ path: 'facts.lines.0.quantity', message: 'must be more than nothing' }];
    await part.refuse('/api/deals/d1/move', {
      status: 400,
      code: 'invalid-request',
      detail: 'Check.',
      fields,
    });
    expect(said(part.root.querySelector('kettle-line-editor')!)).toContain(
      'quantity must be more than nothing',
    );
    await part.type(part.field('Line 1: quantity'), '2');
    await part.click(part.button('Move it'));
    expect(part.asked('/api/deals/d1/move').request.body.facts.lines).toEqual([
      {
        productId: null,
        name: 'Softener',
        quantity: 2,
        priceMinor: 38_500,
        discountPercent: 0,
        billing: 'once',
      },
    ]);
  });
});

describe('closing', () => {
  const show = (as: 'won' | 'lost' | 'parked', part: object = {}) =>
    showPart(CloseDealDialog, { data: { deal: aDealRow(part), as } });

  test('what was sold by the year is proposed as the agreement', async () => {
    const part = await show('won');
    const lines = [
      { quantity: 2, priceMinor: 24_000, discountPercent: 0, billing: 'yearly' },
      { quantity: 1, priceMinor: 385_000, discountPercent: 0, billing: 'once' },
    ];
    await part.answer('/api/deals/d1', aWholeDeal({ lines }));
    expect(part.field('Value of the term').value).toBe('480');
    await part.click(part.button('It is won'));
    expect(part.asked('/api/deals/d1/close').request.body).toMatchObject({
      agreement: { valueMinor: 48_000 },
    });
  });

  test('nothing is proposed where nothing is paid by the year, and it can be asked for by hand', async () => {
    const part = await show('won', { companyId: null });
    await part.answer('/api/deals/d1', aWholeDeal({ lines: [] }));
    const box = part.field('with an agreement');
    expect(box.checked).toBe(false);
    await part.click(part.button('It is won'));
    expect(part.asked('/api/deals/d1/close').request.body).toMatchObject({ agreement: null });
  });

  test('a renewal asks what its agreement is renewed with: as long as before, for what the deal comes to', async () => {
    const part = await show('won');
    const renews = [
      {
        ...{ agreementId: 'a1', name: 'Yearly service', state: 'running', endsOn: '2027-03-01' },
        ...{ termMonths: 12, valueMinor: 1_100_000, currency: 'GBP', nextMinor: 1_150_000 },
      },
    ];
    await part.answer('/api/deals/d1', aWholeDeal({ renews }));
    await part.settle();
    expect(said(part.root)).toContain('Yearly service: the next term, from Mon 1 Mar 2027');
    expect(said(part.root)).not.toContain('with an agreement');
    await part.type(part.field('Final value'), '11,900');
    expect(part.field('Value of the term').value).toBe('11,900');
    await part.type(part.field('Term'), '24');
    await part.click(part.button('It is won'));
    expect(part.asked('/api/deals/d1/close').request.body).toMatchObject({
      ...{ amountMinor: 1_190_000, agreement: null },
      renewed: [{ agreementId: 'a1', months: 24, until: null, valueMinor: 1_190_000 }],
    });
  });

  test('what another changed meanwhile is shown, nothing typed is lost, and the next try goes over it', async () => {
    const part = await show('lost');
    await part.type(part.field('Why'), 'price');
    await part.type(part.field('In your words'), 'ten per cent less');
    await part.click(part.button('It is lost'));
    await part.refuse('/api/deals/d1/close', {
      status: 409,
      code: 'stale',
      detail: 'Somebody changed this while you worked on it.',
      current: aDealRow({ name: 'Hotel Linde: twin softener', version: 8 }),
    });
    expect(said(part.root)).toContain('Now: Hotel Linde: twin softener');
    expect(part.field('Why').value).toBe('price');
    await part.click(part.button('It is lost'));
    expect(part.asked('/api/deals/d1/close').request.body).toMatchObject({
      version: 8,
      reason: 'price',
      words: 'ten per cent less',
    });
  });
});
