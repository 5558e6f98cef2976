import { TestBed } from '@angular/core/testing';
import type { RoundRow } from '@kettle/contract';
import fc from 'fast-check';
import { showPart } from '../../../testing/part';
import { beginningIn, PlaceInDay } from './place-in-day';
import { TimeDialog } from './time-dialog';

const at = (time: string) => `2026-11-24T${time}:00.000Z`;
const aRow = (part: object = {}): RoundRow =>
  ({
    ...{
      key: 'task:1',
      channel: 'call',
      purpose: 'ask',
      contactId: 'c1',
      contactName: 'Maud Ellery',
      dealId: null,
    },
    ...{ taskId: 't1', taskVersion: 4, minutes: 30, ...part },
  }) as unknown as RoundRow;

test('let go over a gap it begins under the hand, at five minutes, and ends with the gap where it fits', () => {
  const gap = { startMinute: 602, minutes: 90 };
  expect([0, 0.5, 1].map((share) => beginningIn(gap, share, 30))).toEqual([605, 645, 660]);
  const any = fc.record({
    startMinute: fc.integer({ min: 0, max: 1300 }),
    minutes: fc.integer({ min: 5, max: 300 }),
    share: fc.double({ min: 0, max: 1, noNaN: true }),
    length: fc.integer({ min: 1, max: 120 }),
  });
  fc.assert(
    fc.property(any, ({ share, length, ...each }) => {
      const minute = beginningIn(each, share, length);
      expect(minute % 5).toBe(0);
      expect(minute).toBeGreaterThanOrEqual(each.startMinute);
      const fits = each.minutes >= length + 9;
      if (fits) expect(minute + length).toBeLessThanOrEqual(each.startMinute + each.minutes);
    }),
  );
});

test('the gaps it fits into are offered, and any other time can be typed', async () => {
  const part = await showPart(TimeDialog, { data: aRow() });
  const gap = (from: string, minutes: number) => ({ from: at(from), to: at('17:00'), minutes });
  await part.answer('/api/spine', {
    blocks: [],
    promises: [],
    gaps: [gap('09:12', 32), gap('10:00', 60), gap('13:00', 20)],
  });
  expect([...part.root.querySelectorAll('.gaps button')].map((each) => each.textContent.trim())).toEqual([
    '10:00, 60 min free',
  ]);
  await part.click(part.button('10:00, 60 min free'));
  await part.click(part.button('Set'));
  expect(part.closedWith).toEqual([600]);
  await part.type(part.field('Another time'), '2.30pm');
  await part.click(part.button('Set'));
  expect(part.closedWith).toEqual([600, 870]);
});

test('a task gets the time; what is no task becomes one; either has its undo', async () => {
  const part = await showPart(TimeDialog, { data: aRow() });
  const acts = TestBed.inject(PlaceInDay);
  void acts.place(aRow(), 600);
  await part.settle();
  const asked = part.asked('/api/tasks/t1');
  expect(asked.request.body).toEqual({ version: 4, dueOn: '2026-11-24', promisedMinute: 600 });
  asked.flush({});
  await part.pass(0);
  expect(document.body.textContent).toContain('Maud Ellery: today at 10:00.');
  expect(await part.undoOf(asked)).toBeTruthy();
  void acts.place(aRow({ taskId: null, taskVersion: null }), 615);
  await part.settle();
  expect(part.asked('/api/tasks').request.body).toEqual({
    ...{ channel: 'call', purpose: 'ask', minutes: 30, contactId: 'c1', dealId: null },
    ...{ dueOn: '2026-11-24', promisedMinute: 615 },
  });
});
