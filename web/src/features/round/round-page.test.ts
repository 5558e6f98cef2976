import { TestBed } from '@angular/core/testing';
import { Router } from '@angular/router';
import type { Round, RoundRow } from '@kettle/contract';
import { type Part, showPart } from '../../../testing/part';
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
    counts: { all: 4, late: 1, channels: { call: 3, email: 1 } },
    hidden: 0,
    more: 0,
    ...part,
  }) as unknown as Round;

async function show(day: Round = aDay(), inputs: object = {}): Promise<Part<RoundPage>> {
  const part = await showPart(RoundPage, { inputs: { ...inputs } });
  await part.answer('/api/round', day);
  return part;
}
const press = async (part: Part<unknown>, key: string) => {
  window.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }));
  await part.settle();
};
const undo = () =>
  [...document.querySelectorAll<HTMLButtonElement>('button')].find((each) => said(each) === 'Undo')!;

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

  test('what has a day with room is moved there, one undo takes it back', async () => {
    const part = await show();
    await part.click(part.button('move 1 to days with room'));
    const asked = part.asked('/api/round/moves');
    expect(asked.request.body).toMatchObject({ rows: [{ taskId: id(3), taskVersion: 3, to: '2026-11-26' }] });
    asked.flush({ moved: 1, refused: [{ purpose: 'the other', why: 'it is done' }] });
    await part.pass(0);
    expect(said(document.body)).toContain(
      '1 moved to the days that have room. “the other” stayed: it is done',
    );
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
    expect(part.asked('/api/round/places').request.body).toEqual({ key: 'task:1', place: 'pin' });
  });

  test('with nothing to do it says what one could do', async () => {
    const { root } = await show(aDay({ above: [], below: [], counts: { all: 0, late: 0, channels: {} } }));
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
