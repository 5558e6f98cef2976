import { TestBed } from '@angular/core/testing';
import { Router } from '@angular/router';
import type { WalkItem, WalkStop } from '@kettle/contract';
import { defaultOutcomes } from '@kettle/core/touch';
import { type Part, showPart } from '../../../testing/part';
import { Drafts } from '../../services/drafts';
import { WalkLists, type WalkedList } from '../../services/walk-lists';
import { WalkTally } from '../../services/walk-tally';
import { WalkEnd } from './walk-end';
import { WalkPage } from './walk-page';

const said = (element: Element) => element.textContent.replace(/\s+/g, ' ').trim();
const address = () => new URL(TestBed.inject(Router).url, 'http://kettle.test');
const id = (n: number) => `01900000-0000-7000-8000-00000000000${n}`;
const press = async (part: Part<unknown>, key: string) => {
  window.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }));
  await part.settle();
};

const stop = (n: number, name: string, taskId: string | null = id(n + 4)) =>
  ({ taskId, contactId: id(n), dealId: null, channel: 'call', minutes: 6, name }) as unknown as WalkStop;
const stops = [stop(1, 'Maud Ellery'), stop(2, 'Tom Rudd'), stop(3, 'Ada Wren', null)];
const step = {
  kind: 'task',
  channel: 'call',
  dueOn: '2026-11-27',
  promisedMinute: null,
  purpose: 'ask',
  minutes: 6,
};
const itemOf = (n: number, name: string, part: object = {}): WalkItem =>
  ({
    contact: {
      ...{
        id: id(n),
        name,
        jobTitle: null,
        companyName: null,
        email: null,
        phone: null,
        zone: 'Europe/London',
      },
      tether: {
        lastTouchAt: null,
        lastTouchKind: null,
        lastTouchCounts: null,
        nextStepOn: null,
        nextStepChannel: null,
        nextStepAt: null,
      },
      ...{ doNotContact: [], attempts: [], answers: [] },
    },
    ...{ deal: null, companyId: null, channel: 'call', recent: [], answersMost: [], hasOpenDeal: false },
    ...{ asksWhetherHeld: false, checklist: [], planned: [], appointment: null, minutes: 6, usualMinutes: 6 },
    task: { id: id(n + 4), version: 3 },
    choices: defaultOutcomes
      .filter(({ kind }) => kind === 'call')
      .map((outcome) => ({
        outcome,
        proposal: { step, channel: 'call', on: '2026-11-27', words: 'Call', why: 'because' },
      })),
    ...part,
  }) as unknown as WalkItem;

/** The walk through the three, at one of them. */
async function walk(at = 0, before: () => void = () => undefined): Promise<Part<WalkPage>> {
  let list = '';
  const part = await showPart(WalkPage, {
    before: () => {
      TestBed.inject(WalkLists).startWith(stops, '3 tasks');
      before();
      list = TestBed.inject(Drafts).readForm<WalkedList>('walk-list')!.id;
    },
  });
  part.fixture.componentRef.setInput('list', list);
  part.fixture.componentRef.setInput('at', String(at));
  part.fixture.componentRef.setInput('walked', String(at));
  await part.settle();
  return part;
}

describe('a walk through chosen records', () => {
  test('shows one after the other, by its channel, and says how far it has come', async () => {
    const part = await walk(1);
    const asked = await part.answer('/api/round/walk', itemOf(2, 'Tom Rudd'));
    expect(asked.request.params.get('taskId')).toBe(id(6));
    expect(asked.request.params.get('channel')).toBe('call');
    expect(said(part.root.querySelector('h1')!)).toBe('Tom Rudd');
    expect(said(part.root.querySelector('.top')!)).toContain('2 of 3 in 3 tasks');
    await press(part, 's');
    expect(address().searchParams.get('at')).toBe('2');
    await press(part, 'b');
    expect(address().searchParams.get('at')).toBe('0');
  });

  test('goes on to the next once it is logged, and counts what was done', async () => {
    const part = await walk();
    await part.answer('/api/round/walk', itemOf(1, 'Maud Ellery'));
    await press(part, '1');
    await press(part, 'Enter');
    const asked = await part.answer('/api/journal/log', { words: 'Next: call.' });
    expect(asked.request.body).toMatchObject({ taskId: id(5), contactId: id(1) });
    await part.settle();
    expect([address().searchParams.get('at'), address().searchParams.get('walked')]).toEqual(['1', '1']);
    expect(TestBed.inject(WalkTally).walked()).toMatchObject([{ name: 'Maud Ellery', plannedMinutes: 6 }]);
  });

  test('a step that was done meanwhile says so', async () => {
    const part = await walk();
    await part.answer('/api/round/walk', itemOf(1, 'Maud Ellery', { task: null }));
    expect(said(part.root)).toContain('This step was done or dropped meanwhile.');
  });

  test('one that was begun elsewhere says that it is not here', async () => {
    const part = await showPart(WalkPage, { inputs: { list: id(9) } });
    expect(said(part.root)).toContain('This walk is not here any more');
  });

  test('what was chosen and typed survives a reload', async () => {
    const part = await walk();
    await part.answer('/api/round/walk', itemOf(1, 'Maud Ellery'));
    await press(part, '2');
    await part.type(part.field(/^Minutes it took/), '17');
    await part.settle();
    const kept = { ...localStorage };
    TestBed.resetTestingModule();
    const again = await walk(0, () =>
      Object.entries(kept).forEach(([key, value]) => localStorage.setItem(key, value as string)),
    );
    await again.answer('/api/round/walk', itemOf(1, 'Maud Ellery'));
    expect(again.root.querySelector('.outcomes [aria-pressed=true]')).toBeTruthy();
    expect(said(again.root.querySelector('.outcomes [aria-pressed=true]')!)).toMatch(/^2/);
    expect(again.field<HTMLInputElement>(/^Minutes it took/).value).toBe('17');
  });

  test('a step is moved to another day, and the walk goes on', async () => {
    const part = await walk();
    await part.answer('/api/round/walk', itemOf(1, 'Maud Ellery'));
    await press(part, 'd');
    await part.pass(50);
    [...document.querySelectorAll<HTMLButtonElement>('kettle-day-proposals button')][0]!.click();
    await part.pass(50);
    expect(part.asked(`/api/tasks/${id(5)}/defer`).request.body).toEqual({ version: 3, dueOn: '2026-11-25' });
    expect(address().searchParams.get('at')).toBe('1');
    expect(TestBed.inject(WalkTally).moved()).toBe(1);
  });

  test('tells how long an act takes with them where that is not the usual', async () => {
    const part = await walk();
    await part.answer('/api/round/walk', itemOf(1, 'Maud Ellery', { minutes: 14 }));
    expect(said(part.root)).toContain('Takes about 14 min with them, 6 in general.');
  });
});

describe('the end of a walk', () => {
  const end = async (inputs: object, before: () => void) => {
    const part = await showPart(WalkEnd, { inputs: { ...inputs }, before });
    return part;
  };
  const tally = () => {
    const kept = TestBed.inject(WalkTally);
    kept.begin();
    const walked = { outcome: 'Spoke', counts: 'conversation', plannedMinutes: 6, takenMinutes: 11 } as const;
    kept.add({ ...walked, id: 'a', name: 'Maud Ellery' });
    kept.add({
      ...walked,
      id: 'b',
      name: 'Tom Rudd',
      outcome: 'No answer',
      counts: 'attempt',
      takenMinutes: null,
    });
    kept.addMoved();
  };

  test('sums up what was done, said, moved, planned and taken, and what is left costs', async () => {
    const part = await end({}, tally);
    const row = {
      key: 'a',
      contactName: 'Ada Wren',
      purpose: 'ask',
      minutes: 8,
      arithmetic: { costMinor: 12_300 },
    };
    await part.answer('/api/round', { above: [row, { ...row, key: 'b' }], below: [], more: 0 });
    expect(said(part.root.querySelector('.sums')!)).toBe(
      '2 done 1 spoken with 1 moved to another day 12 minutes planned 11 minutes taken, of 1 that were timed',
    );
    expect(said(part.root)).toContain('Left for today: 2, 16 min');
    expect(said(part.root)).toContain('they cost £246 of waiting');
    await press(part, 'w');
    expect(address().pathname).toBe('/walk');
  });

  test('an undone log is not counted', async () => {
    const part = await end({}, () => {
      tally();
      TestBed.inject(WalkTally).remove('a');
    });
    expect(said(part.root.querySelector('.sums')!)).toContain('1 done 0 spoken with');
  });

  test('with nothing done it says so', async () => {
    const part = await end({}, () => TestBed.inject(WalkTally).begin());
    expect(said(part.root)).toContain('Nothing was done in this walk');
  });
});
