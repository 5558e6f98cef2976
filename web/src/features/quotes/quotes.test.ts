import { Router } from '@angular/router';
import type { Quote } from '@kettle/contract';
import { showPart, type Part } from '../../../testing/part';
import { DealQuotes } from './deal-quotes';
import { DecideDialog } from './decide-dialog';
import { QuoteForm } from './quote-form';
import { QuotePage } from './quote-page';
import { SendDialog } from './send-dialog';

const said = (root: Element) => root.textContent.replace(/\s+/g, ' ').trim();
const id = '01938f6c-0000-7000-8000-0000000000e1';
const dealId = '01938f6c-0000-7000-8000-0000000000d1';

const aLine = (part: object = {}) => ({
  ...{ productId: null, name: 'Softener', quantity: 1, priceMinor: 385_000, discountPercent: 10 },
  ...{ billing: 'once' as const, taxPercent: 20, isOptional: false, isChosen: false, netMinor: 346_500 },
  ...part,
});
const option = aLine({
  ...{ name: 'Salt', quantity: 12, priceMinor: 1250, discountPercent: 0, netMinor: 15_000, isOptional: true },
});

const aQuote = (part: object = {}): Quote =>
  ({
    ...{ id, dealId, number: null, n: 0, state: 'draft', title: 'Second softener', currency: 'GBP' },
    ...{
      totalMinor: 415_800,
      validUntil: '2026-12-24',
      sentAt: null,
      version: 3,
      dealName: 'Second softener',
    },
    ...{ contactName: 'Maud Ellery', contactEmail: 'maud@penrow.example', companyName: 'Penrow Laundry' },
    ...{ intro: '', closing: '', lines: [aLine(), option], link: null, decidedAt: null, decidedName: null },
    totals: {
      ...{ netMinor: 346_500, taxMinor: 69_300, totalMinor: 415_800 },
      taxes: [{ percent: 20, netMinor: 346_500, taxMinor: 69_300 }],
    },
    ...{ decidedWords: '', questions: [], versions: [], mayChange: true },
    ...part,
  }) as unknown as Quote;
const sent = (part: object = {}) =>
  aQuote({
    ...{ state: 'sent', number: 'Q-0007', n: 1, sentAt: '2026-11-24T09:00:00.000Z' },
    ...{ link: 'http://kettle.test/out/quotes/abc', ...part },
  });

const selling = {
  ...{ version: 1, street: '', postcode: '', city: '', vatId: '', email: '', payment: '', taxPercent: 20 },
  ...{
    validDays: 30,
    remindDays: 5,
    paymentDays: 30,
    intro: '',
    closing: '',
    blocks: [{ name: 'Delivery', text: 'Within two weeks.' }],
  },
};

const submit = async (part: Part<unknown>) => {
  part.root.querySelector('form')!.dispatchEvent(new Event('submit'));
  await part.settle();
};

async function showPage(quote: Quote): Promise<Part<QuotePage>> {
  const part = await showPart(QuotePage, { inputs: { id } });
  await part.answer(`/api/quotes/${id}`, quote);
  return part;
}

describe('a draft', () => {
  const show = async (quote = aQuote()) => {
    const part = await showPart(QuoteForm, { inputs: { quote } });
    await part.answer('/api/selling-settings', selling);
    await part.answerAll('/api/products', { products: [] });
    return part;
  };

  test('says what it comes to as it is typed, with the tax of each rate; an optional line is in no sum', async () => {
    const part = await show();
    expect(said(part.root.querySelector('dl')!)).toBe('net£3,465.00tax 20 %£693.00total£4,158.00');
    await part.type(part.field('Line 1: quantity'), '2');
    expect(said(part.root.querySelector('dl')!)).toContain('total£8,316.00');
    await part.type(part.field('Line 1: tax'), '5');
    expect(said(part.root.querySelector('dl')!)).toContain('tax 5 %£346.50');
    await part.click(part.root.querySelectorAll<HTMLInputElement>('mat-checkbox input')[1]!);
    expect(said(part.root.querySelector('dl')!)).toContain('tax 20 %£30.00');
  });

  test('is saved over the version it was filled from; what is wrong with a line stands at it', async () => {
    const part = await show();
    await part.type(part.field('Line 1: tax'), 'much');
    await submit(part);
    const asked = part.asked(`/api/quotes/${id}`);
    expect(asked.request.body).toMatchObject({
      version: 3,
      title: 'Second softener',
      validUntil: '2026-12-24',
    });
    asked.flush(
      {
        ...{
          type: '',
          title: '',
          status: 400,
          requestId: '',
          code: 'invalid-request',
          detail: 'Check the marked fields.',
        },
        fields: [{ path: 'lines.0.taxPercent', message: 'must be at most 100 %' }],
      },
      { status: 400, statusText: 'refused' },
    );
    await part.settle();
    expect(said(part.root)).toContain('tax must be at most 100 %');
    expect(part.field<HTMLInputElement>('Line 1: tax').value).toBe('much');
  });

  test('a text is put after what is there; what was typed stays when the record is read again', async () => {
    const part = await show(aQuote({ closing: 'Kind regards' }));
    await part.click(part.button('insert a text'));
    await part.click([...document.querySelectorAll<HTMLButtonElement>('[mat-menu-item]')][0]!);
    const closing = () => part.field<HTMLTextAreaElement>('After them').value;
    expect(closing()).toBe('Kind regards\n\nWithin two weeks.');
    part.fixture.componentRef.setInput('quote', aQuote({ closing: 'Other words', version: 4 }));
    await part.settle();
    expect(closing()).toBe('Kind regards\n\nWithin two weeks.');
    document.querySelectorAll('.cdk-overlay-container').forEach((each) => each.remove());
  });
});

describe('the page of one', () => {
  test('that is out: its customer’s page, its sums, what was asked; withdrawn with an undo', async () => {
    const part = await showPage(
      sent({
        questions: [{ at: '2026-11-24T09:05:00.000Z', name: 'Maud Ellery', words: 'Is salt included?' }],
      }),
    );
    expect(said(part.root)).toContain('Q-0007');
    expect(said(part.root)).toContain('http://kettle.test/out/quotes/abc');
    expect(said(part.root)).toContain('Is salt included?');
    expect(said(part.root)).toContain('Salt optional, not in the total');
    expect(said(part.root.querySelector('.sums')!)).toBe('net£3,465.00tax 20 %£693.00total£4,158.00');
    await part.click(part.button('Withdraw'));
    const asked = part.asked(`/api/quotes/${id}/withdraw`);
    expect(asked.request.body).toEqual({ version: 3 });
    asked.flush(sent({ state: 'withdrawn', version: 4 }));
    await part.settle();
    expect(said(part.root)).toContain('withdrawn');
    expect(document.body.textContent).toContain('Withdrawn: its page says so.');
  });

  test('that was accepted asks for the win; one that lapsed, for another version', async () => {
    const part = await showPage(
      sent({
        state: 'accepted',
        decidedName: 'Maud Ellery',
        decidedAt: '2026-11-24T09:05:00.000Z',
        decidedWords: 'Start in May',
      }),
    );
    expect(said(part.root.querySelector('.said')!)).toContain('Accepted by Maud Ellery');
    expect(said(part.root.querySelector('.said')!)).toContain('“Start in May”');
    await part.click(part.button('Win the deal'));
    expect(part.asked(`/api/deals/${dealId}`).request.method).toBe('GET');
  });

  test('that lapsed offers another version', async () => {
    const part = await showPage(sent({ state: 'lapsed' }));
    await part.click(part.button('Another version'));
    await part.answer(`/api/quotes/${id}/revise`, aQuote({ number: 'Q-0007', n: 1 }));
    expect(part.root.querySelector('kettle-quote-form')).not.toBeNull();
  });

  test('of a colleague’s deal shows it without what changes it', async () => {
    const part = await showPage(sent({ mayChange: false }));
    expect([...part.root.querySelectorAll('button')].map(said)).toEqual(['copy the link']);
  });
});

test('sent by mail with words above the link, or without a mail', async () => {
  const part = await showPart(SendDialog, { data: aQuote() });
  expect(part.field<HTMLInputElement>('Subject').value).toBe('Our quote: Second softener');
  expect(part.field<HTMLTextAreaElement>('Words above the link').value).toContain('Good morning Maud,');
  await submit(part);
  const asked = part.asked(`/api/quotes/${id}/send`);
  expect(asked.request.body).toMatchObject({ version: 3, mail: { subject: 'Our quote: Second softener' } });
  asked.flush(sent());
  await part.settle();
  expect(document.body.textContent).toContain('Quote Q-0007 is sent.');
});

test('to somebody without an address it is sent without a mail', async () => {
  const part = await showPart(SendDialog, { data: aQuote({ contactEmail: null }) });
  expect(said(part.root)).toContain('has no e-mail address: hand the link on yourself.');
  await submit(part);
  expect(part.asked(`/api/quotes/${id}/send`).request.body).toEqual({ version: 3, mail: null });
});

test('what they said by telephone: who, in which words, and the options they chose', async () => {
  const part = await showPart(DecideDialog, { data: { quote: sent(), as: 'accepted' } });
  await part.click(part.root.querySelector<HTMLInputElement>('mat-checkbox input')!);
  await part.type(part.field('In their words'), 'Start in May');
  await submit(part);
  expect(part.asked(`/api/quotes/${id}/decide`).request.body).toEqual({
    ...{ version: 3, as: 'accepted', name: 'Maud Ellery', words: 'Start in May', chosen: [1] },
  });
});

test('a deal has its quotes, and another is drafted in one press', async () => {
  const deal = { id: dealId, status: 'open', ownerId: null } as never;
  const part = await showPart(DealQuotes, { inputs: { deal } });
  const summary = (quote: Quote) => {
    const { id: quoteId, number, n, state, title, currency, totalMinor, validUntil, sentAt, version } = quote;
    return {
      ...{ id: quoteId, dealId, number, n, state, title, currency },
      totalMinor,
      validUntil,
      sentAt,
      version,
    };
  };
  await part.answer('/api/quotes', { quotes: [summary(sent()), summary(aQuote({ id: dealId }))] });
  expect([...part.root.querySelectorAll('li')].map(said)).toEqual([
    'Q-0007sentuntil Thu 24 Dec£4,158',
    'Draftdraft£4,158',
  ]);
  const navigate = jest
    .spyOn(part.fixture.debugElement.injector.get(Router), 'navigate')
    .mockResolvedValue(true);
  await part.click(part.button('Draft a quote'));
  const made = part.asked('/api/quotes');
  expect(made.request.body).toEqual({ dealId });
  made.flush(aQuote());
  await part.settle();
  expect(navigate).toHaveBeenCalledWith(['/quotes', id]);
});
