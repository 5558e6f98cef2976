import { Component, provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { Spine } from '@kettle/contract';
import { layOutDay } from './day-layout';
import { Drafts } from '../services/drafts';
import { CurrentUser } from '../services/current-user';
import { Keys } from '../services/keys';

beforeEach(() => TestBed.configureTestingModule({ providers: [provideZonelessChangeDetection()] }));

describe('keys', () => {
  let pressed: string[];
  @Component({ selector: 'kettle-test-keys', template: '<input /><textarea></textarea><button>x</button>' })
  class Part {
    constructor() {
      TestBed.inject(Keys).bind(
        { keys: 'w', words: 'walk', act: () => pressed.push('w') },
        { keys: 'g r', words: 'go', act: () => pressed.push('g r') },
      );
    }
  }
  const press = (key: string, on: EventTarget = window) =>
    on.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }));

  beforeEach(() => {
    pressed = [];
  });

  test('act alone and in sequence, are listed, and end with the part that bound them', () => {
    const fixture = TestBed.createComponent(Part);
    TestBed.tick();
    press('w');
    press('g');
    press('r');
    expect(pressed).toEqual(['w', 'g r']);
    expect(
      TestBed.inject(Keys)
        .list()
        .map((binding) => binding.words),
    ).toEqual(['walk', 'go']);
    fixture.destroy();
    press('w');
    expect(pressed).toHaveLength(2);
    expect(TestBed.inject(Keys).list()).toEqual([]);
  });

  test('never fire while typing', () => {
    const fixture = TestBed.createComponent(Part);
    const root = fixture.nativeElement as HTMLElement;
    document.body.append(root);
    TestBed.tick();
    press('w', root.querySelector('input')!);
    press('w', root.querySelector('textarea')!);
    expect(pressed).toEqual([]);
    press('w', root.querySelector('button')!);
    expect(pressed).toEqual(['w']);
    fixture.destroy();
  });
});

describe('here', () => {
  const person = { id: 'p1', zone: 'Asia/Kolkata' };
  test('shows the server’s time in the reader’s zone, and another zone’s beside it', () => {
    const user = TestBed.inject(CurrentUser);
    user.enter({ person, now: '2026-11-24T20:00:00.000Z', currency: 'GBP' } as never);
    expect(user.today()).toBe('2026-11-25');
    expect(user.timeOf('2026-11-24T20:00:00.000Z')).toBe('01:30');
    expect(user.timeOf('2026-11-24T20:00:00.000Z', 'Europe/Lisbon')).toBe('20:00');
    expect(user.minuteOf('2026-11-24T20:00:00.000Z')).toBe(90);
  });

  test('drafts are kept for the person who wrote them', () => {
    const user = TestBed.inject(CurrentUser);
    const drafts = TestBed.inject(Drafts);
    user.enter({ person, now: '2026-11-24T20:00:00.000Z', currency: 'GBP' } as never);
    drafts.keep('walk.x', 'half a thou');
    expect(drafts.read('walk.x')).toBe('half a thou');
    user.enter({
      person: { ...person, id: 'p2' },
      now: '2026-11-24T20:00:00.000Z',
      currency: 'GBP',
    } as never);
    expect(drafts.read('walk.x')).toBe('');
  });
});

describe('the day along the left edge', () => {
  const at = (time: string) => `2026-11-24T${time}:00.000Z`;
  const minuteOf = (moment: string) => Number(moment.slice(11, 13)) * 60 + Number(moment.slice(14, 16));
  const spine: Spine = {
    on: '2026-11-24',
    dayStart: at('09:00'),
    dayEnd: at('17:30'),
    blocks: [
      {
        id: 'm',
        isOutside: false,
        title: 'Survey',
        place: 'Dunmere',
        startsAt: at('11:00'),
        endsAt: at('12:00'),
        travelMinutes: 20,
        travelAfterMinutes: 0,
      },
    ],
    gaps: [{ from: at('09:10'), to: at('10:40'), minutes: 90 }],
    promises: [{ at: at('10:00'), words: 'Maud Ellery', minutes: 10 }],
  };

  test('is drawn between full hours, each thing at its time', () => {
    const day = layOutDay(spine, at('09:10'), minuteOf);
    expect(day.hours.map(({ hour }) => hour)).toEqual([9, 10, 11, 12, 13, 14, 15, 16, 17]);
    expect(day.blocks[0]).toMatchObject({ detail: 'Dunmere · 20 min drive', isTight: false });
    expect(day.blocks[0]!.top).toBeCloseTo(2 / 9);
    expect(day.blocks[0]!.size).toBeCloseTo(1 / 9);
    expect(day.promises[0]!.top).toBeCloseTo(1 / 9);
    expect(day.gaps[0]).toMatchObject({ minutes: 90, startMinute: 550 });
    expect(day.now).toBeCloseTo(1 / 54);
  });

  test('what overlaps stands side by side, and what does not has the whole width', () => {
    const block = (id: string, from: string, to: string) => ({
      ...spine.blocks[0]!,
      id: id as never,
      startsAt: at(from),
      endsAt: at(to),
    });
    const blocks = [
      block('a', '11:00', '12:00'),
      block('b', '11:30', '12:30'),
      block('c', '12:00', '13:00'),
      block('d', '14:00', '15:00'),
    ];
    const promises = [{ at: at('14:30'), words: 'Maud Ellery', minutes: 10 }];
    const day = layOutDay({ ...spine, blocks, promises }, at('09:10'), minuteOf);
    const columns = day.blocks.map(({ id, column, columns: of }) => [id, column, of]);
    expect(columns).toEqual([
      ['a', 0, 2],
      ['b', 1, 2],
      ['c', 0, 2],
      ['d', 0, 2],
    ]);
    expect(day.promises[0]).toMatchObject({ column: 1, columns: 2 });
    expect(layOutDay(spine, at('09:10'), minuteOf).blocks[0]).toMatchObject({ column: 0, columns: 1 });
  });

  test('has no line of now before and after it', () => {
    expect(layOutDay(spine, at('07:00'), minuteOf).now).toBeNull();
    expect(layOutDay(spine, at('19:00'), minuteOf).now).toBeNull();
  });
});
