import { TestBed } from '@angular/core/testing';
import { MatDialog } from '@angular/material/dialog';
import { aDealRow, aWholeDeal, pipeline } from '../../../testing/deals';
import { type Part, showPart } from '../../../testing/part';
import { Undo } from '../../services/undo';
import { DealLanes } from './deal-lanes';
import { DealProgress } from './deal-progress';

const said = (root: HTMLElement) => root.textContent.replace(/\s+/g, ' ').trim();
const notchesPath = '/api/deals/d1/notches';

const show = async (part: object = {}) => {
  const progress = await showPart(DealProgress, { inputs: { deal: aDealRow(part) } });
  await progress.answerAll('/api/pipelines', { pipelines: [pipeline] });
  return progress;
};
const press = async (part: Part<unknown>, key: string, shiftKey = false) => {
  window.dispatchEvent(new KeyboardEvent('keydown', { key, shiftKey, bubbles: true, cancelable: true }));
  await part.settle();
};
const answer = (part: Part<unknown>, notches: number, version: number) =>
  part.answer(notchesPath, aWholeDeal({ notches, version }));

test('stages done and notches are one share, drawn and said', async () => {
  const part = await show({ notches: 2 });
  expect(said(part.root)).toContain('20 %2 notches');
  expect(part.root.querySelectorAll('.cut')).toHaveLength(2);
  expect(part.root.querySelector('svg')!.getAttribute('aria-label')).toBe('stage 1 of 2');
});

test('two quick presses are two notches, sent one after the other, with one undo for both', async () => {
  const part = await show();
  const offer = jest.spyOn(TestBed.inject(Undo), 'offer').mockReturnValue();
  await press(part, 'r');
  await press(part, 'r');
  expect(said(part.root)).toContain('2 notches');
  const sent = [await answer(part, 1, 5), await answer(part, 2, 6)];
  expect(sent.map(({ request }) => request.body as object)).toEqual([
    { version: 4, notches: 1 },
    { version: 5, notches: 2 },
  ]);
  expect(offer.mock.calls.map(([words, ids]) => [words, ids.length])).toEqual([
    ['Hotel Linde: softener has 2 notches.', 2],
  ]);
});

test('Shift R takes one back; there is none below none', async () => {
  const part = await show({ notches: 1 });
  await press(part, 'R', true);
  expect((await answer(part, 0, 5)).request.body).toEqual({ version: 4, notches: 0 });
  part.fixture.componentRef.setInput('deal', aDealRow({ notches: 0, version: 5 }));
  await part.settle();
  expect(part.button('back').disabled).toBe(true);
});

test('behind the fourth notch lies the next stage, which is asked about', async () => {
  const part = await show({ notches: 4 });
  const open = jest.spyOn(TestBed.inject(MatDialog), 'open').mockReturnValue({} as never);
  await press(part, 'r');
  await part.pass(50);
  expect(open.mock.calls[0]?.[1]?.data).toMatchObject({ stageId: 'Survey' });
  part.server.expectNone(notchesPath);
});

test('what is refused is told, and the bar is as it was', async () => {
  const part = await show({ notches: 1 });
  await press(part, 'r');
  await part.refuse(notchesPath, { status: 409, code: 'stale', detail: 'Somebody changed it.' });
  expect(said(part.root)).toContain('1 notch');
});

test('a colleague’s deal shows its notches and has no way to cut them', async () => {
  const part = await show({ ownerId: 'dara', notches: 3 });
  expect([said(part.root).includes('3 notches'), part.root.querySelector('button')]).toEqual([true, null]);
  await press(part, 'r');
  part.server.expectNone(notchesPath);
});

test('in the lanes they are cut into the bar and said with its name', async () => {
  const part = await showPart(DealLanes, { inputs: { pipeline, rows: [aDealRow({ notches: 3 })] } });
  expect(part.root.querySelectorAll('.cuts svg')).toHaveLength(3);
  expect(part.root.querySelector('.name')!.getAttribute('aria-label')).toContain(', 3 notches');
});
