import { TestBed } from '@angular/core/testing';
import type { JotReading } from '@kettle/contract';
import { isUnavailable, type Part, showPart } from '../../../testing/part';
import { JotDialog, type JotData } from './jot-dialog';

let part: Part<JotDialog>;
beforeEach(async () => {
  const data: JotData = { aboutId: null, takeTyped: () => '' };
  part = await showPart(JotDialog, { data });
});

const reading = (over: Partial<JotReading> = {}): JotReading =>
  ({
    act: 'log',
    channel: 'call',
    outcomeId: 'call-spoke',
    outcomeWords: 'Spoke',
    happened: null,
    minutes: null,
    also: [],
    deal: null,
    closing: null,
    amount: null,
    tags: [],
    source: null,
    task: { channel: 'call', on: '2026-11-26', minute: 600, purpose: 'follow up', owner: null },
    body: 'wants price',
    person: { id: 'maud', name: 'Maud Ellery', companyName: 'Penrow Laundry' },
    unknownName: null,
    questions: [],
    ...over,
  }) as unknown as JotReading;
const line = () => part.root.querySelector('input')!;
const write = async (text: string, read: JotReading) => {
  await part.type(line(), text);
  await part.pass(150);
  return part.answer('/api/jot', read);
};
const chips = () =>
  [...part.root.querySelectorAll('.chips li')].map((each) => each.textContent.replace(/\s+/g, ' ').trim());
const enter = async () => {
  line().dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true, cancelable: true }));
  await part.settle();
};

test('what was typed while it was opening is its line', async () => {
  TestBed.resetTestingModule();
  const data: JotData = { aboutId: null, takeTyped: () => 'spoke to maud' };
  part = await showPart(JotDialog, { data });
  expect(line().value).toBe('spoke to maud');
});

test('what was understood is shown as chips, and nothing is saved by it', async () => {
  await write('spoke to maud, wants price, call thursday 10', reading());
  expect(chips()).toEqual([
    'with Maud Ellery, Penrow Laundry',
    'call Spoke',
    'note wants price',
    'next call: follow up · in 2 days · Thu 26 Nov 10:00',
  ]);
  part.server.expectNone('/api/jot/save');
});

test('Enter reads the line once more and logs it with its next step', async () => {
  await write('spoke to maud', reading());
  await enter();
  await part.answer('/api/jot', reading());
  const log = part.asked('/api/jot/save');
  expect(log.request.body).toMatchObject({
    act: 'log',
    contactId: 'maud',
    outcomeId: 'call-spoke',
    body: 'wants price',
    next: { kind: 'task', channel: 'call', dueOn: '2026-11-26', promisedMinute: 600 },
  });
  log.flush({ contactId: 'maud', leadId: null, name: 'Maud Ellery' });
  await part.pass(0);
  expect(part.closedWith).toHaveLength(1);
  const undo = [...document.querySelectorAll('button')].find((each) => each.textContent.includes('Undo'))!;
  await part.click(undo);
  expect(part.asked(`/api/changes/${log.request.headers.get('X-Change-Id')}/undo`)).toBeTruthy();
});

test('what is read otherwise than it was shown is shown first', async () => {
  await write('spoke to maud', reading());
  await enter();
  await part.answer('/api/jot', reading({ body: 'wants price by friday' }));
  part.server.expectNone('/api/jot/save');
  expect(chips()).toContain('note wants price by friday');
  await enter();
  await part.answer('/api/jot', reading({ body: 'wants price by friday' }));
  expect(part.asked('/api/jot/save').request.body).toMatchObject({ body: 'wants price by friday' });
});

test('a task for a colleague, others it happened with, a deal and how long it took are shown and sent', async () => {
  const read = reading({
    also: [{ id: 'theo', name: 'Theo Quillan' }],
    deal: { id: 'wren', name: 'Wren: softener' },
    minutes: 40,
    task: {
      channel: 'call',
      on: '2026-11-26',
      minute: null,
      purpose: 'follow up',
      owner: { id: 'dara', name: 'Dara Finch' },
    },
  } as never);
  await write('met maud and theo about the wren deal, 40 min', read);
  expect(chips()).toEqual([
    'with Maud Ellery, Penrow Laundry + Theo Quillan',
    'deal Wren: softener',
    'took 40 min',
    'call Spoke',
    'note wants price',
    'for Dara Finch call: follow up · in 2 days · Thu 26 Nov',
  ]);
  await enter();
  await part.answer('/api/jot', read);
  expect(part.asked('/api/jot/save').request.body).toMatchObject({
    alsoContactIds: ['theo'],
    dealId: 'wren',
    minutes: 40,
    next: { kind: 'none', reason: 'planned for Dara Finch' },
    task: { ownerId: 'dara' },
  });
});

test('a deal that was won opens its dialog with what was said', async () => {
  const read = reading({
    act: 'closing',
    deal: { id: 'wren', name: 'Wren: softener' },
    closing: 'won',
    amount: { minor: 980_000, currency: 'GBP' },
    body: 'price was right',
    task: null,
  } as never);
  await write('won the wren deal for £9,800, price was right', read);
  expect(part.button('Close the deal')).toBeTruthy();
  await enter();
  await part.answer('/api/jot', read);
  await part.pass(0);
  await part.answer('/api/deals/wren', {
    id: 'wren',
    name: 'Wren: softener',
    amountMinor: 900_000,
    currency: 'GBP',
  });
  await part.pass(0);
  expect(part.closedWith).toHaveLength(1);
  part.server.expectNone('/api/jot/save');
});

test('a log without a next step takes the proposed one, which is shown before', async () => {
  await write('left a message for maud', reading({ task: null, outcomeId: 'call-voicemail' }));
  const step = {
    kind: 'task',
    channel: 'call',
    dueOn: '2026-11-25',
    promisedMinute: null,
    purpose: 'again',
    minutes: 6,
  };
  await part.answer('/api/round/walk', {
    choices: [
      {
        outcome: { id: 'call-voicemail' },
        proposal: { step, channel: 'call', on: '2026-11-25', words: 'Call: again', why: '' },
      },
    ],
  });
  expect(chips().at(-1)).toBe('next, proposed Call: again · tomorrow · Wed 25 Nov');
  await enter();
  await part.answer('/api/jot', reading({ task: null, outcomeId: 'call-voicemail' }));
  await part.pass(0);
  for (const late of part.server.match('/api/round/walk'))
    late.flush({ choices: [{ outcome: { id: 'call-voicemail' }, proposal: { step } }] });
  await part.pass(0);
  expect(part.asked('/api/jot/save').request.body.next).toEqual(step);
});

test('a question keeps Enter from saving, and its answer is sent with the line', async () => {
  const question = {
    about: 'person',
    words: 'Who is meant?',
    choices: [{ value: 'anne', words: 'Anne Garth' }],
  };
  await write('spoke to anne', reading({ person: null, questions: [question] }));
  expect(isUnavailable(part.button('Log it'))).toBe(true);
  await part.click(part.button('Anne Garth'));
  await part.pass(150);
  const again = part.asked('/api/jot');
  expect(again.request.body.answers).toEqual({ person: 'anne' });
  again.flush(reading());
  await part.settle();
  expect(isUnavailable(part.button('Log it'))).toBe(false);
});

test('a refusal is shown with what to do, and the line is kept', async () => {
  await write('spoke to maud', reading());
  await enter();
  await part.answer('/api/jot', reading());
  await part.refuse('/api/jot/save', {
    status: 422,
    code: 'reason-needed',
    detail: 'A deal is open with this person.',
  });
  await part.pass(0);
  expect(part.root.querySelector('[role=alert]')!.textContent).toContain('A deal is open');
  expect(line().value).toBe('spoke to maud');
  expect(part.closedWith).toEqual([]);
});

test('somebody unknown is offered to be added', async () => {
  await write('spoke to Casimir Vogel', reading({ person: null, unknownName: 'Casimir Vogel' }));
  expect(part.button('Add Casimir Vogel')).toBeTruthy();
  expect(isUnavailable(part.button('Log it'))).toBe(true);
});

test('a lead shows who, of which firm and what they want, and is added with what is planned', async () => {
  const lead = { subject: 'a softener', companyName: 'Pell Spa', email: 'nora@pell.example', phone: null };
  const read = reading({
    ...{
      act: 'lead',
      person: null,
      unknownName: 'Nora Pell',
      outcomeId: null,
      outcomeWords: null,
      body: '',
      lead,
    },
    task: { channel: 'call', on: '2026-11-25', minute: null, purpose: 'follow up' },
  } as never);
  await write('lead: Nora Pell of Pell Spa, nora@pell.example, wants a softener, call tomorrow', read);
  expect(chips()).toEqual([
    'a lead, somebody new Nora Pell',
    'of Pell Spa',
    'e-mail nora@pell.example',
    'wants a softener',
    'next call: follow up · tomorrow · Wed 25 Nov',
  ]);
  await enter();
  await part.answer('/api/jot', read);
  expect(part.asked('/api/jot/save').request.body).toMatchObject({
    act: 'lead',
    lead: {
      subject: 'a softener',
      person: { givenName: 'Nora', familyName: 'Pell', companyName: 'Pell Spa', email: 'nora@pell.example' },
    },
    task: { channel: 'call', dueOn: '2026-11-25' },
  });
});
