import { TestBed } from '@angular/core/testing';
import { Router } from '@angular/router';
import type { FieldDay, FieldStop } from '@kettle/contract';
import { type Part, showPart } from '../../../testing/part';
import { FieldDayPage } from './field-day-page';
import { FieldMap } from './field-map';

HTMLElement.prototype.scrollIntoView = () => undefined;
const said = (element: Element) => element.textContent.replace(/\s+/g, ' ').trim();
const address = () => new URL(TestBed.inject(Router).url, 'http://kettle.test');
const id = (n: number) => `01900000-0000-7000-8000-00000000000${n}`;

/** Places along a line to the north of home, so many tenths of a degree away; 0.1 is 20 minutes. */
const north = (tenths: number) => ({ latitude: 54 + tenths / 10, longitude: -5.3 });
const stop = (n: number, tenths: number | null, part: object = {}) =>
  ({
    key: `task:${n}`,
    ...{ taskId: id(n), taskVersion: 3, appointmentId: null, contactId: id(n), name: `Person ${n}` },
    ...{ companyName: 'Penrow Laundry', purpose: 'look at the softener', minutes: 30, promisedAt: null },
    address: {
      ...{ companyId: id(n), siteId: null, words: '3 Mill Lane' },
      known: tenths === null ? null : { point: north(tenths), isByHand: false },
    },
    opens: [{ from: 540, to: 1050 }],
    ...part,
  }) as unknown as FieldStop;
const aDay = (part: Partial<FieldDay> = {}): FieldDay =>
  ({
    ...{ on: '2026-11-25', ownerId: 'me', zone: 'Europe/London', hours: { from: 540, to: 1050 } },
    home: { words: 'ZM1', ...north(0) },
    office: null,
    roads: { factor: 1.3, kilometresAnHour: 50, parkingMinutes: 3 },
    stops: [stop(1, 2), stop(2, 1)],
    busy: [],
    best: ['task:2', 'task:1'],
    near: [],
    ...part,
  }) as unknown as FieldDay;

async function show(day: FieldDay = aDay()): Promise<Part<FieldDayPage>> {
  const part = await showPart(FieldDayPage, { inputs: { on: '2026-11-25' } });
  await part.answer('/api/field-days', day);
  return part;
}
const press = async (part: Part<unknown>, key: string, over: KeyboardEventInit = {}) => {
  window.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...over }));
  await part.settle();
};
const names = (part: Part<unknown>) => [...part.root.querySelectorAll('.stops .what b')].map(said);

describe('a day on the road', () => {
  test('shows the visits in the best order, with their times and ways', async () => {
    const part = await show();
    expect(names(part)).toEqual(['Person 2', 'Person 1']);
    expect([...part.root.querySelectorAll('.times')].map(said)).toEqual(['09:20 –09:50', '10:10 –10:40']);
    // Twice 20 minutes there, and 38 back over the whole way.
    expect(said(part.root.querySelector('.facts')!)).toBe('2 visits from 09:00 to 11:1878 min of driving');
    expect([...part.root.querySelectorAll('svg g text')].map(said)).toEqual(['1', '2']);
  });

  test('another order says what it costs, and B takes the best again', async () => {
    const day = aDay({ stops: [stop(1, 2), stop(2, 1, { promisedAt: 560 })] });
    const part = await show(day);
    await press(part, 'ArrowDown');
    await press(part, 'ArrowDown', { altKey: true });
    expect(names(part)).toEqual(['Person 1', 'Person 2']);
    expect(said(part.root.querySelector('.facts')!)).toContain('Your own order : 0 min more driving');
    expect(said(part.root.querySelector('.facts')!)).toContain('1 more promises or doors missed');
    expect(said(part.root)).toContain('promised for 09:20');
    await press(part, 'b');
    expect(names(part)).toEqual(['Person 2', 'Person 1']);
  });

  test('the times go into the calendar in one act, with the way back after the last', async () => {
    const part = await show();
    await part.click(part.button('Put these times in the calendar'));
    const asked = part.asked('/api/field-days/plan');
    expect(asked.request.body).toEqual({
      on: '2026-11-25',
      visits: [
        { taskId: id(2), version: 3, startMinute: 560, travelMinutes: 20, travelAfterMinutes: 0 },
        { taskId: id(1), version: 3, startMinute: 610, travelMinutes: 20, travelAfterMinutes: 38 },
      ],
    });
    asked.flush({ ok: true });
    await part.pass(10);
    expect(said(document.body)).toContain('The visits stand in the calendar at these times.');
  });

  test('whose place nobody knows is put on the map: typed, or by a press', async () => {
    const part = await show(aDay({ stops: [stop(1, null)], best: ['task:1'] }));
    await part.click(part.button('not on the map: put it there'));
    expect(said(part.root.querySelector('.placing')!)).toContain('Press where Person 1 is');
    await part.type(part.field('Postcode or degrees'), 'nowhere');
    await part.click(part.button('Set'));
    await part.pass(10);
    expect(said(document.body)).toContain('“nowhere” is no postcode that is known here.');
    await part.type(part.field('Postcode or degrees'), 'ZM2');
    await part.click(part.button('Set'));
    expect(part.asked('/api/field-days/sites').request.body).toEqual({
      ...{ companyId: id(1), siteId: null },
      point: { latitude: 54.09, longitude: -5.18 },
    });
  });

  test('where one’s days begin is said by a postcode', async () => {
    const part = await show(aDay({ home: null }));
    await part.click(part.button('where my days begin…'));
    await part.type(part.field('Postcode or degrees'), 'ZM1');
    await part.click(part.button('Set'));
    expect(part.asked('/api/field-days/start').request.body).toEqual({
      start: { words: 'ZM1', latitude: 54.02, longitude: -5.31 },
    });
  });

  test('proposes who is near by what it costs to leave them for each further minute, inside the detour', async () => {
    const near = (n: number, tenths: number, costMinor: number) => ({
      ...{ key: `quiet:${n}`, kind: 'quiet', contactId: id(n), name: `Near ${n}`, companyName: null },
      ...{ reason: 'quiet for 60 days', point: north(tenths), costMinor, minutes: 45 },
    });
    const part = await show(
      aDay({ near: [near(4, 1.5, 500), near(5, 0.5, 9_000), near(6, 9, 90_000)] as never }),
    );
    const shown = () => [...part.root.querySelectorAll('.near li b')].map(said);
    expect(shown()).toEqual(['Near 5', 'Near 4']);
    await part.click(part.button('Visit'));
    expect(part.asked('/api/tasks').request.body).toMatchObject({
      ...{ channel: 'visit', contactId: id(5), dueOn: '2026-11-25', purpose: 'quiet for 60 days' },
    });
  });

  test('goes from day to day by keys, and says when there is no visit', async () => {
    const part = await show(aDay({ stops: [], best: [] }));
    expect(said(part.root)).toContain('No visit on this day');
    await press(part, 'ArrowRight');
    expect(address().searchParams.get('on')).toBe('2026-11-26');
  });

  test('a press on the map says where something is', async () => {
    const part = await showPart(FieldMap, { inputs: { marks: [], isPlacing: true } });
    const placed: unknown[] = [];
    part.shown.placed.subscribe((point) => placed.push(point));
    const button = part.button('Press where it is');
    button.getBoundingClientRect = () => ({ left: 0, top: 0, width: 520, height: 460 }) as DOMRect;
    button.dispatchEvent(new MouseEvent('click', { clientX: 260, clientY: 230, bubbles: true }));
    const [{ latitude, longitude }] = placed as [{ latitude: number; longitude: number }];
    // The middle of the county.
    expect(latitude).toBeCloseTo(54.03, 1);
    expect(longitude).toBeCloseTo(-5.3, 1);
  });
});
