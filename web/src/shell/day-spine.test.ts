import { TestBed } from '@angular/core/testing';
import { showPart } from '../../testing/part';
import { AppointmentActs, PlaceInDay } from '../features/calendar/index';
import { DraggedRow } from '../services/dragged-row';
import { DaySpine } from './day-spine';

const said = (element: Element) => element.textContent.replace(/\s+/g, ' ').trim();
const at = (time: string) => `2026-11-24T${time}:00.000Z`;

test('the spine: appointments with place and drive, promises, and gaps; a press plans there or opens what is there', async () => {
  const part = await showPart(DaySpine, { inputs: { isOpen: true } });
  const block = {
    ...{ id: 'm1', title: 'Pell Spa', place: 'Mill Lane', travelMinutes: 20, travelAfterMinutes: 0 },
    ...{ startsAt: at('10:00'), endsAt: at('11:00') },
  };
  await part.answer('/api/spine', {
    ...{ dayStart: at('09:00'), dayEnd: at('17:00'), blocks: [block] },
    promises: [{ at: at('14:00'), minutes: 6, words: 'Maud Ellery' }],
    gaps: [{ from: at('11:00'), to: at('14:00'), minutes: 180 }],
  });
  expect([...part.root.querySelectorAll('.promise')].map(said)).toEqual(['Maud Ellery']);
  const acts = TestBed.inject(AppointmentActs);
  const plan = jest.spyOn(acts, 'plan').mockResolvedValue();
  await part.click(part.button('180 minutes free: plan an appointment'));
  await part.pass(0);
  expect(plan).toHaveBeenCalledWith({ on: '2026-11-24', startMinute: 660, minutes: 60 });
  const open = jest.spyOn(acts, 'open').mockResolvedValue();
  await part.click(part.button('Pell Spa Mill Lane · 20 min drive'));
  await part.pass(0);
  expect(open).toHaveBeenCalledWith('m1');
});

test('a row of the Round that is let go over a gap gets the time under the hand', async () => {
  const part = await showPart(DaySpine, { inputs: { isOpen: true } });
  await part.answer('/api/spine', {
    ...{ dayStart: at('09:00'), dayEnd: at('17:00'), blocks: [], promises: [] },
    gaps: [{ from: at('11:00'), to: at('14:00'), minutes: 180 }],
  });
  const gap = part.button('180 minutes free: plan an appointment');
  const place = jest.spyOn(TestBed.inject(PlaceInDay), 'place').mockResolvedValue();
  const drop = async () => {
    const over = new Event('dragover', { cancelable: true });
    gap.dispatchEvent(over);
    gap.dispatchEvent(new Event('drop', { cancelable: true }));
    await part.pass(0);
    return over.defaultPrevented;
  };
  // Something else that is dragged over the page is none of its business.
  expect(await drop()).toBe(false);
  expect(place).not.toHaveBeenCalled();
  const row = { key: 'task:1', minutes: 30 } as never;
  TestBed.inject(DraggedRow).row.set(row);
  expect(await drop()).toBe(true);
  expect(place).toHaveBeenCalledWith(row, 660);
});
