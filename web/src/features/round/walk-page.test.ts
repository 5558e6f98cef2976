import { provideHttpClient } from '@angular/common/http';
import {
  HttpTestingController,
  provideHttpClientTesting,
  type TestRequest,
} from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { type ComponentFixture, TestBed } from '@angular/core/testing';
import { MatIconRegistry } from '@angular/material/icon';
import { DomSanitizer } from '@angular/platform-browser';
import { provideRouter, Router } from '@angular/router';
import type { LogEntry, Outcome, RoundRow, WalkItem } from '@kettle/contract';
import { defaultOutcomes } from '@kettle/core/touch';
import { CurrentUser } from '../../services/current-user';
import { RoundStore } from './round.store';
import { WalkPage } from './walk-page';

const tether = {
  lastTouchAt: null,
  lastTouchKind: null,
  lastTouchCounts: null,
  nextStepOn: '2026-11-24',
  nextStepChannel: 'call',
  nextStepAt: null,
};

const rowOf = (name: string): RoundRow =>
  ({
    key: `task:${name}`,
    kind: 'task',
    channel: 'call',
    purpose: 'ask',
    reasons: [{ words: 'due today', pressing: false }],
    contactId: name,
    contactName: name,
    companyName: null,
    zone: 'Europe/London',
    taskId: `t-${name}`,
    taskVersion: 3,
    dealId: null,
    agreementId: null,
    fixedAt: null,
    minutes: 6,
    due: 'today',
    pinned: false,
    tether,
    arithmetic: {
      stakeMinor: 1,
      chanceToday: 1,
      laterOn: null,
      chanceLater: 0,
      priceOfMinuteMinor: 0,
      minutes: 6,
      costMinor: 1,
      sentence: 'Done today.',
    },
    moveTo: null,
    willMiss: false,
    askToKeep: false,
  }) as unknown as RoundRow;

const choiceOf = (outcome: Outcome) => ({
  outcome,
  proposal: {
    step: {
      kind: 'task',
      channel: 'call',
      dueOn: '2026-11-27',
      promisedMinute: null,
      purpose: 'follow',
      minutes: 6,
    },
    channel: 'call',
    on: '2026-11-27',
    words: 'Call',
    why: 'because',
  },
});

const itemOf = (name: string): WalkItem =>
  ({
    contact: {
      id: name,
      name,
      jobTitle: null,
      companyName: null,
      email: null,
      phone: null,
      zone: 'Europe/London',
      tether,
      doNotContact: [],
      attempts: [],
      answers: [],
    },
    deal: null,
    companyId: null,
    channel: 'call',
    recent: [],
    answersMost: [`Answered most: call (${name})`],
    choices: defaultOutcomes.filter((outcome) => outcome.kind === 'call').map(choiceOf),
    hasOpenDeal: false,
  }) as unknown as WalkItem;

let fixture: ComponentFixture<WalkPage>;
let server: HttpTestingController;
let page: HTMLElement;

const settle = async () => {
  fixture.detectChanges();
  await fixture.whenStable();
};
const press = async (key: string) => {
  window.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }));
  await settle();
};
const asked = (): TestRequest => server.expectOne((request) => request.url === '/api/round/walk');
const show = async (name: string) => {
  fixture.componentRef.setInput('key', `task:${name}`);
  await settle();
};

beforeEach(async () => {
  localStorage.clear();
  TestBed.configureTestingModule({
    providers: [
      provideZonelessChangeDetection(),
      provideHttpClient(),
      provideHttpClientTesting(),
      provideRouter([{ path: '**', children: [] }]),
    ],
  });
  const registry = TestBed.inject(MatIconRegistry);
  for (const name of ['call', 'email', 'text', 'system', 'note'])
    registry.addSvgIconLiteral(name, TestBed.inject(DomSanitizer).bypassSecurityTrustHtml('<svg></svg>'));
  TestBed.inject(CurrentUser).enter({
    person: { id: 'me', zone: 'Europe/London' },
    now: '2026-11-24T09:10:00.000Z',
    currency: 'GBP',
  } as never);
  server = TestBed.inject(HttpTestingController);
  const store = TestBed.inject(RoundStore);
  store.show({});
  server.expectOne('/api/round').flush({
    above: [rowOf('maud'), rowOf('owen')],
    below: [],
    header: {},
    counts: { all: 2, late: 0, channels: {} },
    more: 0,
  });
  fixture = TestBed.createComponent(WalkPage);
  page = fixture.nativeElement as HTMLElement;
  await show('maud');
});

test('two keys log the outcome with the proposed step, against the task that was seen', async () => {
  asked().flush(itemOf('maud'));
  await settle();
  await press('2');
  await press('Enter');
  const { body } = server.expectOne('/api/journal/log').request as { body: LogEntry };
  expect(body).toMatchObject({
    contactId: 'maud',
    taskId: 't-maud',
    outcomeId: 'call-no-answer',
    body: '',
    next: { kind: 'task', dueOn: '2026-11-27' },
  });
});

test('how they answer stands with whoever is on screen', async () => {
  asked().flush(itemOf('maud'));
  await settle();
  expect(page.querySelector('.act-side')!.textContent).toContain('Answered most: call (maud)');
});

test('Enter does nothing before an outcome is chosen', async () => {
  asked().flush(itemOf('maud'));
  await settle();
  await press('Enter');
  server.expectNone('/api/journal/log');
});

test('a number pressed while the item is on its way counts once it is there', async () => {
  await press('1');
  asked().flush(itemOf('maud'));
  await settle();
  expect(page.querySelector('.outcomes [aria-pressed=true]')?.textContent).toContain('Spoke');
});

test('while the next item is on its way nothing can be logged for the one before', async () => {
  asked().flush(itemOf('maud'));
  await settle();
  await show('owen');
  expect(page.querySelector('h1')).toBeNull();
  await press('Enter');
  server.expectNone('/api/journal/log');
  asked().flush(itemOf('owen'));
  await settle();
  expect(page.querySelector('h1')?.textContent).toBe('owen');
});

test('a save sent again after a lost answer has the same id, and the note is still there', async () => {
  asked().flush(itemOf('maud'));
  await settle();
  await press('1');
  const note = page.querySelector('textarea')!;
  note.value = 'Wants the price';
  note.dispatchEvent(new Event('input'));
  await press('Enter');
  const first = server.expectOne('/api/journal/log');
  first.error(new ProgressEvent('lost'));
  await settle();
  expect(page.querySelector('[role=alert]')?.textContent).toContain('What you typed is kept');
  await press('Enter');
  const second = server.expectOne('/api/journal/log');
  expect(second.request.body).toEqual(first.request.body);
  expect((second.request.body as LogEntry).body).toBe('Wants the price');
});

test('a colleague’s change that reads the Round again resets nothing that was chosen', async () => {
  asked().flush(itemOf('maud'));
  await settle();
  const buttonOf = (channel: string) =>
    [...page.querySelectorAll<HTMLButtonElement>('[aria-label="What it was"] button')].find((button) =>
      button.textContent.includes(channel),
    )!;
  buttonOf('Visit').click();
  await settle();
  asked().flush(itemOf('maud'));
  await settle();
  await press('1');
  TestBed.inject(RoundStore).again();
  await settle();
  server.expectOne('/api/round').flush({
    above: [rowOf('maud'), rowOf('owen')],
    below: [],
    header: {},
    counts: { all: 2, late: 0, channels: {} },
    more: 0,
  });
  await settle();
  server.expectNone('/api/round/walk');
  expect(buttonOf('Visit').getAttribute('aria-pressed')).toBe('true');
  expect(page.querySelector('.outcomes [aria-pressed=true]')?.textContent).toContain('Spoke');
  await show('owen');
  expect(asked().request.params.get('channel')).toBe('call');
});

describe('another channel', () => {
  const choose = async (channel: string) => {
    [...page.querySelectorAll<HTMLButtonElement>('[aria-label="What it was"] button')]
      .find((button) => button.textContent.includes(channel))!
      .click();
    await settle();
  };
  const withPhone = (): WalkItem => {
    const item = itemOf('maud');
    return { ...item, contact: { ...item.contact, phone: '+441632960010' } };
  };

  test('keeps the person on screen and a call that is on, and what was said of length and time', async () => {
    asked().flush(withPhone());
    await settle();
    await press('Enter');
    server.expectOne('/api/calls').flush({ id: 'c', state: 'answered', number: '+441632960010' });
    await settle();
    fixture.componentInstance['minutes'].set(12);
    await choose('Visit');
    expect(page.querySelector('h1')?.textContent).toBe('maud');
    expect(page.querySelectorAll('.outcomes button')).toHaveLength(0);
    asked().flush(withPhone());
    await settle();
    expect(page.textContent).toContain('Hang up');
    expect(fixture.componentInstance['minutes']()).toBe(12);
  });

  test('and Enter at once: the act begins when its outcomes are there', async () => {
    asked().flush(withPhone());
    await settle();
    await choose('Visit');
    asked().flush(withPhone());
    await settle();
    await choose('Call');
    await press('Enter');
    server.expectNone('/api/calls');
    asked().flush(withPhone());
    await settle();
    expect(server.expectOne('/api/calls').request.body).toMatchObject({ contactId: 'maud' });
  });

  test('an Enter before the person is there begins nothing', async () => {
    await press('Enter');
    asked().flush(withPhone());
    await settle();
    server.expectNone('/api/calls');
  });
});

test('after a save the next one comes, and the draft is gone', async () => {
  const go = jest.spyOn(TestBed.inject(Router), 'navigate');
  asked().flush(itemOf('maud'));
  await settle();
  await press('1');
  const note = page.querySelector('textarea')!;
  note.value = 'x';
  note.dispatchEvent(new Event('input'));
  expect(localStorage.getItem('kettle.draft.me.walk.task:maud')).toBe('x');
  await press('Enter');
  server
    .expectOne('/api/journal/log')
    .flush({ entryId: 'e', nextTaskId: null, nextOn: null, words: 'Next: follow' });
  await settle();
  expect(go.mock.lastCall![1]).toMatchObject({ queryParams: { key: 'task:owen', walked: 1 } });
  expect(localStorage.getItem('kettle.draft.me.walk.task:maud')).toBeNull();
});

test('a step that was opened by its link comes back to where one came from', async () => {
  const go = jest.spyOn(TestBed.inject(Router), 'navigate');
  const back = jest.spyOn(TestBed.inject(Router), 'navigateByUrl');
  fixture.componentRef.setInput('alone', 'yes');
  asked().flush(itemOf('maud'));
  await settle();
  await press('1');
  await press('Enter');
  server
    .expectOne('/api/journal/log')
    .flush({ entryId: 'e', nextTaskId: null, nextOn: null, words: 'Next: follow' });
  await settle();
  expect(back).toHaveBeenCalledWith('/people?open=contact:maud');
  expect(go).not.toHaveBeenCalled();
});

describe('a step that has no row of its own', () => {
  const follow = async (task: object | null) => {
    const go = jest.spyOn(TestBed.inject(Router), 'navigate');
    asked().flush(itemOf('maud'));
    await show('merged');
    expect(page.textContent).not.toContain('This one is done');
    const read = asked();
    expect(read.request.params.get('taskId')).toBe('merged');
    read.flush({ ...itemOf('maud'), channel: 'visit', task });
    await settle();
    return go;
  };

  test('shown with another of the same person, it opens all the same', async () => {
    const go = await follow({ id: 'merged', version: 1 });
    expect(go.mock.lastCall![1]!.queryParams).toEqual({
      key: null,
      contact: 'maud',
      by: 'visit',
      task: 'merged',
    });
  });

  test('is not said to be done while nobody answers', async () => {
    asked().flush(itemOf('maud'));
    await show('merged');
    const problem = { code: 'internal', detail: 'Something went wrong here.' };
    asked().flush(problem, { status: 500, statusText: 'broken' });
    await settle();
    expect(page.textContent).not.toContain('This one is done');
    expect(page.querySelector('[role=alert]')!.textContent).toContain('Try again');
  });

  test('says what is to be done, as a row does', async () => {
    await follow({ id: 'merged', version: 1 });
    for (const [name, value] of Object.entries({ key: undefined, contact: 'maud', task: 'merged' }))
      fixture.componentRef.setInput(name, value);
    await settle();
    const planned = [{ id: 'merged', channel: 'call', purpose: 'ask about salt', dueOn: '2026-11-24' }];
    asked().flush({ ...itemOf('maud'), planned, task: { id: 'merged', version: 1 } });
    await settle();
    expect(page.querySelector('.purpose')!.textContent).toBe('ask about salt');
  });

  test('is said to be done when it is', async () => {
    const go = await follow(null);
    expect(page.textContent).toContain('This one is done');
    expect(go).not.toHaveBeenCalled();
  });
});

test('skip goes on and back comes back', async () => {
  const go = jest.spyOn(TestBed.inject(Router), 'navigate');
  asked().flush(itemOf('maud'));
  await settle();
  await press('s');
  expect(go.mock.lastCall![1]).toMatchObject({ queryParams: { key: 'task:owen' } });
  await press('b');
  expect(go.mock.lastCall![1]).toMatchObject({ queryParams: { key: 'task:maud' } });
});

describe('a meeting or a visit', () => {
  const visit = () => ({
    ...itemOf('maud'),
    choices: defaultOutcomes.filter((outcome) => outcome.kind === 'visit').map(choiceOf),
    asksWhetherHeld: true,
    checklist: ['took readings'],
    task: null,
  });
  const outcomes = () =>
    [...page.querySelectorAll('.outcomes button')].map((each) => each.textContent.trim().slice(1).trim());

  test('asks first whether it took place; yes leaves what was done to tick, no the matching outcomes', async () => {
    asked().flush(visit());
    await settle();
    expect(outcomes()).toEqual([]);
    await press('2');
    expect(outcomes()).toEqual(['Nobody there', 'Called off']);
    [...page.querySelectorAll<HTMLButtonElement>('.held button')][0]!.click();
    await settle();
    expect(outcomes()).toEqual(['Held']);
    page.querySelector<HTMLInputElement>('.done input')!.click();
    await settle();
    await press('Enter');
    expect(server.expectOne('/api/journal/log').request.body).toMatchObject({
      outcomeId: 'visit-held',
      done: ['took readings'],
    });
  });
});

describe('where the walk is', () => {
  const address = () => new URL(TestBed.inject(Router).url, 'http://kettle.test').searchParams;

  test('alone it begins with the first of the Round', async () => {
    fixture.componentRef.setInput('key', undefined);
    await settle();
    expect(address().get('key')).toBe('task:maud');
  });

  test('it keeps its filter over a reload, and says what a filter left of it', async () => {
    fixture.componentRef.setInput('key', undefined);
    fixture.componentRef.setInput('only', 'visit');
    await settle();
    const query = server.expectOne((request) => request.url === '/api/round');
    expect(query.request.params.get('channel')).toBe('visit');
    query.flush({ above: [], below: [] });
    await settle();
    expect(page.textContent).toContain('Nobody in the Round fits the filter.');
  });

  test('what is done counts on: the second of two stays the second', async () => {
    fixture.componentRef.setInput('walked', '3');
    await show('maud');
    asked().flush(itemOf('maud'));
    await settle();
    expect(page.textContent).toContain('4 of 5 in today’s round');
  });
});

describe('outside the Round', () => {
  const planned = [
    { id: 'p1', channel: 'call', purpose: 'ask about salt', dueOn: '2026-11-24' },
    { id: 'p2', channel: 'visit', purpose: 'look at it', dueOn: '2026-12-01' },
  ];
  const item = (taskId: string | null) => ({
    ...itemOf('Maud'),
    planned,
    task: taskId === null ? null : { id: taskId, version: 1 },
  });
  const open = async () => {
    asked().flush(itemOf('maud'));
    fixture.componentRef.setInput('contact', 'Maud');
    fixture.componentRef.setInput('key', undefined);
    await settle();
    const first = asked();
    first.flush(item('p1'));
    await settle();
    return first;
  };
  const group = () => page.querySelector('[aria-label="Was it a planned step?"]')!;
  const pressed = () =>
    [...group().querySelectorAll('[aria-pressed=true]')].map((each) => each.textContent.trim());

  test('what is planned is asked about, the likely one chosen; the log finishes it', async () => {
    const first = await open();
    expect(first.request.params.get('planned')).toBe('likely');
    expect(pressed()).toEqual([expect.stringContaining('ask about salt')]);
    await press('1');
    await press('Enter');
    const sent = server.expectOne('/api/journal/log');
    expect((sent.request.body as LogEntry).taskId).toBe('p1');
  });

  test('with Y it is the next of them, then none: nothing planned is finished', async () => {
    await open();
    await press('y');
    const second = asked();
    expect(second.request.params.get('taskId')).toBe('p2');
    second.flush(item('p2'));
    await settle();
    await press('y');
    const none = asked();
    expect([none.request.params.get('taskId'), none.request.params.get('planned')]).toEqual([null, null]);
    none.flush(item(null));
    await settle();
    expect(pressed()).toEqual(['no']);
    await press('1');
    await press('Enter');
    const sent = server.expectOne('/api/journal/log');
    expect((sent.request.body as LogEntry).taskId).toBeNull();
  });
});

test('what was chosen stays while the item is read anew, and Enter saves it then', async () => {
  asked().flush(itemOf('maud'));
  await settle();
  await press('2');
  TestBed.inject(RoundStore).again();
  await settle();
  server.expectOne('/api/round').flush({
    // The row is about another deal now: its item is asked for again.
    above: [{ ...rowOf('maud'), dealId: 'd1' }, rowOf('owen')],
    below: [],
    header: {},
    counts: { all: 2, late: 0, channels: {} },
    more: 0,
  });
  await settle();
  await press('Enter');
  asked().flush(itemOf('maud'));
  await settle();
  const { body } = server.expectOne('/api/journal/log').request as { body: LogEntry };
  expect(body.outcomeId).toBe('call-no-answer');
});
