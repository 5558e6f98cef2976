import { showPart } from '../../testing/part';
import { DaySpine } from './day-spine';
import { MeetingDialog, RemoveMeetingDialog } from './meeting-dialog';

const said = (element: Element) => element.textContent.replace(/\s+/g, ' ').trim();
const at = (time: string) => `2026-11-24T${time}:00.000Z`;

test('the spine: meetings with place and drive, promises, and gaps that a meeting is put into', async () => {
  const part = await showPart(DaySpine, { inputs: { isOpen: true } });
  const block = {
    ...{ id: 'm1', title: 'Pell Spa', place: 'Mill Lane', travelMinutes: 20 },
    ...{ startsAt: at('10:00'), endsAt: at('11:00') },
  };
  await part.answer('/api/spine', {
    ...{ dayStart: at('09:00'), dayEnd: at('17:00'), blocks: [block] },
    promises: [{ at: at('14:00'), minutes: 6, words: 'Maud Ellery' }],
    gaps: [{ from: at('11:00'), to: at('14:00'), minutes: 180 }],
  });
  expect(part.button('Pell Spa Mill Lane · 20 min drive')).toBeTruthy();
  expect([...part.root.querySelectorAll('.promise')].map(said)).toEqual(['Maud Ellery']);
  expect(part.button('180 minutes free: put a meeting here')).toBeTruthy();
});

test('a meeting is put into the gap, in the reader’s own day, once', async () => {
  const part = await showPart(MeetingDialog, { data: { startMinute: 660, minutes: 60 } });
  await part.click(part.button('Put it there'));
  part.server.expectNone('/api/meetings');
  expect(said(part.root)).toContain('is missing');
  await part.type(part.field('What'), 'Pell Spa');
  await part.type(part.field('From'), '11.30');
  await part.type(part.field('Drive before'), '15');
  await part.click(part.button('Put it there'));
  await part.click(part.button('Put it there'));
  const { request } = await part.answer('/api/meetings', { id: 'm1' });
  expect(request.body).toEqual({
    ...{ title: 'Pell Spa', place: null, travelMinutes: 15 },
    ...{ startsAt: at('11:30'), endsAt: at('12:30') },
  });
  expect(part.closedWith).toHaveLength(1);
});

test('taking one off the day is asked first; a refusal leaves it there', async () => {
  const part = await showPart(RemoveMeetingDialog, { data: { id: 'm1', title: 'Pell Spa' } });
  await part.click(part.button('Remove'));
  await part.refuse('/api/meetings/m1', { status: 503, code: 'database-away', detail: 'In a moment.' });
  expect(part.closedWith).toEqual([]);
  await part.click(part.button('Remove'));
  await part.answer('/api/meetings/m1', { ok: true });
  expect(part.closedWith).toHaveLength(1);
});
