import { TestBed } from '@angular/core/testing';
import { MatDialog } from '@angular/material/dialog';
import { Router } from '@angular/router';
import type { Round, RoundRow } from '@kettle/contract';
import { type Part, showPart } from '../../../testing/part';
import { ChangeStream } from '../../services/change-stream';
import { DonePage } from './done-page';
import { RoundPage } from './round-page';

/** jsdom lays nothing out and scrolls nowhere. */
HTMLElement.prototype.scrollIntoView = () => undefined;
const said = (element: Element) => element.textContent.replace(/\s+/g, ' ').trim();
const address = () => new URL(TestBed.inject(Router).url, 'http://kettle.test');
const id = (n: number) => `01900000-0000-7000-8000-00000000000${n}`;

const aRow = (n: number, part: Partial<RoundRow> = {}): RoundRow =>
  ({
    key: `task:${n}`,
    kind: 'task',
    channel: 'call',
    purpose: 'ask for the price',
    reasons: [{ words: 'due today', pressing: false }],
    contactId: id(n),
    contactName: `Person ${n}`,
    zone: 'Europe/London',
    taskId: id(n),
    taskVersion: 3,
    minutes: 6,
    due: 'today',
    arithmetic: { costMinor: 12_300, minutes: 6, priceOfMinuteMinor: 0, sentence: 'Done today £123.' },
    ...part,
  }) as unknown as RoundRow;
const aDay = (part: Partial<Round> = {}): Round =>
  ({
    on: '2026-11-24',
    ownerId: 'me',
    header: {
      ...{ done: 2, doneMinutes: 12, left: 3, leftMinutes: 18, freeMinutes: 240, reserveMinutes: 20 },
      ...{ meetingsHeld: { week: 1, month: 4, quarter: 9 }, quota: null, priceOfMinuteMinor: 0 },
    },
    above: [aRow(1), aRow(2, { pinned: true })],
    below: [aRow(3, { moveTo: '2026-11-26' }), aRow(4, { moveTo: null, willMiss: true })],
    tomorrow: 5,
    counts: { all: 4, late: 1, channels: { call: 3, email: 1 }, kinds: { task: 3, reply: 1 } },
    placed: 0,
    days: [
      { on: '2026-11-24', plannedMinutes: 0, freeMinutes: 240 },
      { on: '2026-11-25', plannedMinutes: 60, freeMinutes: 200 },
      { on: '2026-11-26', plannedMinutes: 250, freeMinutes: 10 },
    ],
    hidden: 0,
    more: 0,
    ...part,
  }) as unknown as Round;

async function show(day: Round = aDay(), inputs: object = {}): Promise<Part<RoundPage>> {
  const part = await showPart(RoundPage, { inputs: { ...inputs } });
  await part.answer('/api/round', day);
  return part;
}
const names = (part: Part<unknown>) => [...part.root.querySelectorAll('.name b')].map(said);
const dialogButton = (words: string) =>
  [...document.querySelectorAll<HTMLButtonElement>('mat-dialog-actions button')].find(
    (each) => said(each) === words,
  )!;
const press = async (part: Part<unknown>, key: string, over: KeyboardEventInit = {}) => {
  window.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...over }));
  await part.settle();
};
const undo = () =>
  [...document.querySelectorAll<HTMLButtonElement>('button')].find((each) => said(each) === 'Undo')!;

/** A dialog that a test leaves open would swallow the keys of the next. */
afterEach(() => TestBed.inject(MatDialog).closeAll());

describe('the Round', () => {
  test('stands in its order, with the line where the free minutes end', async () => {
    const { root } = await show();
    expect([...root.querySelectorAll('.above .name b')].map(said)).toEqual(['Person 1', 'Person 2']);
    expect([...root.querySelectorAll('.below .minutes')].map(said)).toEqual(['Thursday', 'will be missed']);
    expect(said(root.querySelector('.cut')!)).toContain('the day’s free minutes end here · 2 more');
    expect(said(root.querySelector('.facts')!)).toContain('2 done · 3 left');
    expect(said(root.querySelector('.facts')!)).toContain('1 this week , 4 this month , 9 this quarter');
  });

  test('by keys: the next row is chosen and says why, W walks from it', async () => {
    const part = await show();
    await press(part, 'ArrowDown');
    await press(part, 'ArrowDown');
    expect(document.getElementById('task:2')?.getAttribute('aria-expanded')).toBe('true');
    expect(said(part.root)).toContain('Done today £123.');
    await press(part, 'w');
    expect([address().pathname, address().searchParams.get('key')]).toEqual(['/walk', 'task:2']);
  });

  test('a filter is kept in the address, and says what it hides', async () => {
    const part = await show(aDay({ hidden: 3 }), { channel: 'email' });
    expect(part.button('E-mail 1').getAttribute('aria-pressed')).toBe('true');
    expect(said(part.root)).toContain('a filter hides 3');
    await part.click(part.button('show all'));
    expect(address().searchParams.get('channel')).toBeNull();
  });

  test('what has a day with room is moved there once the days were looked at, one undo takes it back', async () => {
    const part = await show();
    await part.click(part.button('move 1 to days with room…'));
    await part.pass(50);
    expect(said(document.querySelector('kettle-move-dialog .loads')!)).toBe(
      'in 2 days · Thu 26 Nov250 min planned + 6 4 min left',
    );
    dialogButton('Move').click();
    await part.pass(50);
    const asked = part.asked('/api/round/moves');
    expect(asked.request.body).toMatchObject({ rows: [{ taskId: id(3), taskVersion: 3, to: '2026-11-26' }] });
    asked.flush({ moved: 1, refused: [{ purpose: 'the other', why: 'it is done' }] });
    await part.pass(0);
    expect(said(document.body)).toContain('1 moved. “the other” stayed: it is done');
    undo().click();
    await part.settle();
    expect(part.asked(`/api/changes/${asked.request.headers.get('X-Change-Id')!}/undo`)).toBeTruthy();
  });

  test('says how many rows are behind those that were read, and reads on by a press', async () => {
    const part = await show(aDay({ more: 420 }));
    expect(said(part.root.querySelector('.cut')!)).toContain('free minutes end here · 422 more');
    await part.click(part.button('420 more rows'));
    const asked = part.asked('/api/round');
    expect(asked.request.params.get('limit')).toBe('300');
    asked.flush(aDay({ more: 270 }));
    await part.settle();
    expect(said(part.root)).toContain('270 more rows');
  });

  test('P pins the chosen row', async () => {
    const part = await show();
    await press(part, 'ArrowDown');
    await press(part, 'p');
    expect(part.asked('/api/round/places').request.body).toEqual({ key: 'task:1', place: 'top' });
  });

  test('Alt and an arrow put the chosen row elsewhere, several presses as one move', async () => {
    const part = await show(aDay({ above: [aRow(1), aRow(2), aRow(5)], below: [aRow(3)] }));
    await press(part, 'ArrowDown');
    await press(part, 'ArrowDown', { altKey: true });
    await press(part, 'ArrowDown', { altKey: true });
    expect(names(part)).toEqual(['Person 2', 'Person 5', 'Person 1', 'Person 3']);
    await part.pass(500);
    expect(part.asked('/api/round/places').request.body).toEqual({
      ...{ place: 'by-hand', key: 'task:1', before: 'task:3', isToday: true },
    });
  });

  test('over the line a row changes its side and nothing else', async () => {
    const part = await show(aDay({ above: [aRow(1), aRow(2)], below: [aRow(3)] }));
    await press(part, 'ArrowDown');
    await press(part, 'ArrowDown');
    await press(part, 'ArrowDown', { altKey: true });
    expect([...part.root.querySelectorAll('.below .name b')].map(said)).toEqual(['Person 2', 'Person 3']);
    await part.pass(500);
    expect(part.asked('/api/round/places').request.body).toMatchObject({ before: 'task:3', isToday: false });
  });

  test('what is promised for a time is not put elsewhere, and says why', async () => {
    const part = await show(aDay({ above: [aRow(1, { fixedAt: '2026-11-24T10:00:00.000Z' }), aRow(2)] }));
    await press(part, 'ArrowDown');
    await press(part, 'ArrowDown', { altKey: true });
    await part.pass(50);
    expect(said(document.body)).toContain('It is promised for 10:00');
    expect(names(part).slice(0, 2)).toEqual(['Person 1', 'Person 2']);
  });

  test('a row that is dragged is put before the one it is let go over', async () => {
    const part = await show();
    const [first, , third] = [...part.root.querySelectorAll('.line')];
    const drag = (kind: string, on: Element) =>
      on.dispatchEvent(new MouseEvent(kind, { bubbles: true, cancelable: true, clientY: -1 }));
    drag('dragstart', third!);
    drag('dragover', first!);
    await part.settle();
    expect(first!.classList.contains('before')).toBe(true);
    drag('drop', first!);
    await part.settle();
    expect(names(part)).toEqual(['Person 3', 'Person 1', 'Person 2', 'Person 4']);
    await part.pass(500);
    expect(part.asked('/api/round/places').request.body).toMatchObject({
      key: 'task:3',
      before: 'task:1',
      isToday: true,
    });
  });

  test('says how many were placed by hand, and orders them by cost again', async () => {
    const part = await show(aDay({ placed: 2, above: [aRow(1, { placed: true })] }));
    expect(said(part.root)).toContain('2 placed by hand');
    expect(part.root.querySelector('[aria-label="placed by hand"]')).toBeTruthy();
    await part.click(part.button('order by cost again'));
    expect(part.asked('/api/round/places').request.body).toEqual({ place: 'all-computed' });
  });

  test('what others change waits behind a line, and R shows it', async () => {
    const part = await show();
    TestBed.inject(ChangeStream).renew();
    await part.pass(200);
    await part.answer('/api/round', aDay({ above: [aRow(7), aRow(2, { pinned: true }), aRow(1)] }));
    expect(names(part)).toEqual(['Person 1', 'Person 2', 'Person 3', 'Person 4']);
    expect(said(part.root.querySelector('.changes')!)).toBe('2 changes wait R');
    await press(part, 'r');
    expect(names(part).slice(0, 3)).toEqual(['Person 7', 'Person 2', 'Person 1']);
    expect(part.root.querySelector('.changes')).toBeNull();
  });

  test('what changes no row is shown at once', async () => {
    const part = await show();
    TestBed.inject(ChangeStream).renew();
    await part.pass(200);
    await part.answer('/api/round', aDay({ tomorrow: 9 }));
    expect(part.root.querySelector('.changes')).toBeNull();
    expect(said(part.root)).toContain('Tomorrow 9');
  });

  test('what one did oneself is shown at once', async () => {
    const part = await show();
    await press(part, 'ArrowDown');
    await press(part, 'p');
    await part.answer('/api/round/places', { ok: true });
    await part.answer('/api/round', aDay({ above: [aRow(2), aRow(1)] }));
    TestBed.inject(ChangeStream).renew();
    await part.pass(200);
    await part.answer('/api/round', aDay({ above: [aRow(1), aRow(2)] }));
    expect(names(part).slice(0, 2)).toEqual(['Person 1', 'Person 2']);
  });

  test('marked rows are moved together; Z snoozes them by a week', async () => {
    const part = await show();
    await part.click(part.button('Mark Person 1'));
    await press(part, 'ArrowDown');
    await press(part, 'ArrowDown');
    await press(part, ' ', { code: 'Space' });
    expect(said(part.root.querySelector('.marked [role=status]')!)).toBe('2 marked, 12 min');
    await press(part, 'z');
    const { rows } = part.asked('/api/round/moves').request.body as {
      rows: { taskId: string; to: string }[];
    };
    expect(rows.map(({ taskId, to }) => [taskId, to])).toEqual([
      [id(1), '2026-12-01'],
      [id(2), '2026-12-01'],
    ]);
    await part.settle();
    expect(part.root.querySelector('.marked')).toBeNull();
  });

  test('a row moved three times is asked about before it moves once more', async () => {
    const part = await show(aDay({ above: [aRow(1, { askToKeep: true }), aRow(2)] }));
    await press(part, 'ArrowDown');
    await press(part, 'd');
    await part.pass(50);
    const dialog = document.querySelector('kettle-ask-to-keep-dialog')!;
    expect(said(dialog)).toContain('What is wrong with it?');
    const radio = [...dialog.querySelectorAll('mat-radio-button')].find((each) =>
      said(each).startsWith('It is too big'),
    )!;
    radio.querySelector('input')!.click();
    await part.settle();
    dialogButton('Shorten').click();
    await part.pass(0);
    expect(part.asked(`/api/tasks/${id(1)}`).request.body).toEqual({
      version: 3,
      channel: 'call',
      minutes: 3,
    });
  });

  test('dropping it needs a reason', async () => {
    const part = await show(aDay({ above: [aRow(1, { askToKeep: true })], below: [] }));
    await part.click(document.getElementById('task:1')!);
    await part.click(part.button('Moved three times or more: what is wrong with it?'));
    await part.pass(50);
    const dialog = document.querySelector('kettle-ask-to-keep-dialog')!;
    [...dialog.querySelectorAll('input')].at(3)!.click();
    await part.settle();
    dialogButton('Drop').click();
    await part.settle();
    expect(said(dialog)).toContain('is missing');
  });

  test('by source, and tomorrow: each a filter in the address', async () => {
    const part = await show();
    await part.click(part.button('By source'));
    await part.click(part.button('replies 1'));
    expect(address().searchParams.get('kind')).toBe('reply');
    await part.click(part.button('Tomorrow 5'));
    expect(address().searchParams.get('due')).toBe('tomorrow');
  });

  test('tomorrow says what it comes to, and its order is not made by hand', async () => {
    const part = await show(aDay({ on: '2026-11-25', above: [aRow(1)], below: [] }), { due: 'tomorrow' });
    expect(said(part.root.querySelector('.ahead')!)).toContain(
      'tomorrow · Wed 25 Nov · 3 rows, 18 min of 240 free',
    );
    await part.click(document.getElementById('task:1')!);
    expect(said(part.root)).not.toContain('Pin P');
  });

  test('the Round of a colleague is theirs: its order stays, and a row can carry a note to them', async () => {
    const part = await showPart(RoundPage, { role: 'manager', inputs: { owner: id(8) } });
    const asked = await part.answer('/api/round', aDay({ ownerName: 'Dara Finch' }));
    expect(asked.request.params.get('owner')).toBe(id(8));
    expect(said(part.root.querySelector('h1')!)).toBe('Dara Finch’s Round');
    await part.click(document.getElementById('task:1')!);
    expect(said(part.root)).not.toContain('Pin P');
    // Neither by key: it would pin in one's own.
    await press(part, 'p');
    await press(part, 'ArrowDown', { altKey: true });
    await part.pass(500);
    part.server.expectNone('/api/round/places');
    await part.click(part.button('Note to Dara Finch'));
    await part.pass(50);
    const box = document.querySelector<HTMLTextAreaElement>('kettle-note-dialog textarea')!;
    await part.type(box, 'offer the salt first');
    dialogButton('Write').click();
    await part.pass(10);
    expect(part.asked('/api/journal/notes').request.body).toMatchObject({
      ...{ contactId: id(1), dealId: null, body: '@Dara Finch offer the salt first' },
    });
  });

  test('with nothing to do it says what one could do', async () => {
    const { root } = await show(
      aDay({ above: [], below: [], counts: { all: 0, late: 0, channels: {}, kinds: {} } }),
    );
    expect(said(root)).toContain('Nothing waits for you today');
    expect(said(root)).toContain('Start somebody on a cadence');
  });

  test('what comes late stands below the rows: none moves from under a press', async () => {
    const part = await showPart(RoundPage, { role: 'admin' });
    await part.answer('/api/round', aDay());
    const row = document.getElementById('task:1')!;
    await part.pass(50);
    const steps = [{ name: 'people', isDone: false, isSkipped: false }];
    await part.answer('/api/setup', { version: 1, steps });
    const late = part.root.querySelector('kettle-setup-steps section')!;
    expect(said(late)).toContain('1 to go');
    expect(row.compareDocumentPosition(late)).toBe(Node.DOCUMENT_POSITION_FOLLOWING);
  });

  test('a refusal is told, and asked again by a press', async () => {
    const part = await showPart(RoundPage);
    await part.refuse('/api/round', { status: 403, code: 'not-allowed', detail: 'Not yours.' });
    expect(said(part.root)).toContain('Not yours.');
    await part.click(part.button(/again/i));
    await part.answer('/api/round', aDay());
    expect(said(part.root)).toContain('Person 1');
  });
});

describe('what I did', () => {
  const done = (n: number, part: object = {}) => ({
    ...{ key: `entry:${n}`, at: '2026-11-24T09:00:00.000Z', channel: 'call', outcome: 'Spoke' },
    ...{ counts: 'conversation', minutes: 6, contactId: id(n), contactName: `Person ${n}` },
    ...part,
  });
  const showDone = async (rows: readonly object[], total = rows.length, inputs: object = {}) => {
    const part = await showPart(DonePage, { inputs: { ...inputs } });
    const from = '2026-11-23';
    await part.answer('/api/round/done', {
      from,
      to: '2026-11-24',
      rows,
      total,
      minutes: 20,
      conversations: 1,
    });
    return part;
  };

  test('is listed by day, with the minutes of each', async () => {
    const { root } = await showDone([
      done(1),
      done(2, { minutes: 14, outcome: null, purpose: 'send the offer' }),
      done(3, { at: '2026-11-23T09:00:00.000Z', minutes: null }),
    ]);
    expect([...root.querySelectorAll('h2')].map(said)).toEqual([
      expect.stringMatching(/2 done · 20 min$/),
      expect.stringMatching(/1 done · 0 min$/),
    ]);
    expect(said(root)).toContain('Finished: send the offer');
  });

  test('says when not all of it is shown, and where there is none', async () => {
    expect(said((await showDone([done(1)], 700)).root)).toContain('The latest 1 of 700 are shown.');
    TestBed.resetTestingModule();
    const none = await showDone([], 0, { met: 'true' });
    expect(said(none.root)).toContain('No meeting or visit was held');
    await none.click(none.button('this week'));
    expect(address().searchParams.get('from')).toBe('2026-11-23');
  });
});
