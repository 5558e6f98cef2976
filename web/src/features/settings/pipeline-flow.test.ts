import { TestBed } from '@angular/core/testing';
import { pipeline } from '../../../testing/deals';
import { showPart } from '../../../testing/part';
import { Undo } from '../../services/undo';
import { PipelineFlow } from './pipeline-flow';

const sales = { ...pipeline, movesOn: false, handsOnTo: null };
const fitting = { ...pipeline, id: 'f', name: 'Fitting', movesOn: false, handsOnTo: null };

const show = async (all: readonly object[] = [sales, fitting]) => {
  const part = await showPart(PipelineFlow, { role: 'admin', inputs: { pipeline: sales, all } });
  const changed: string[] = [];
  part.shown.changed.subscribe(() => changed.push('again'));
  return { part, changed };
};

test('each change holds at once, over the version that was seen, and can be undone', async () => {
  const { part, changed } = await show();
  const offer = jest.spyOn(TestBed.inject(Undo), 'offer').mockReturnValue();
  await part.click(part.root.querySelector<HTMLInputElement>('input[type=checkbox]')!);
  const { request } = await part.answer('/api/pipelines/p/flow', { ...sales, movesOn: true });
  expect(request.body).toEqual({ version: 1, movesOn: true, handsOnTo: null });
  expect([offer.mock.calls[0]?.[0], changed]).toEqual(['Plant sales is changed.', ['again']]);
});

test('a won deal is handed on to another pipeline, which is offered once there is one', async () => {
  const { part } = await show();
  await part.choose('A won deal is usually handed on to', 'Fitting');
  expect(part.asked('/api/pipelines/p/flow').request.body).toEqual({
    version: 1,
    movesOn: false,
    handsOnTo: 'f',
  });
  TestBed.resetTestingModule();
  const alone = await show([sales]);
  expect(alone.part.root.querySelector('mat-select')).toBeNull();
});

test('renewals begin in one pipeline, whichever an admin says', async () => {
  const { part } = await show();
  await part.click(part.field('Renewals begin in its first stage'));
  expect(part.asked('/api/pipelines/p/flow').request.body).toEqual({
    ...{ version: 1, movesOn: false, handsOnTo: null, isForRenewals: true },
  });
});

test('what is refused is told, and the pipeline is read again', async () => {
  const { part, changed } = await show();
  await part.click(part.root.querySelector<HTMLInputElement>('input[type=checkbox]')!);
  await part.refuse('/api/pipelines/p/flow', { status: 409, code: 'stale', detail: 'Somebody changed it.' });
  expect(changed).toEqual(['again']);
});
