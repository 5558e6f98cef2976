import { aWholeDeal } from '../../../testing/deals';
import { showPart } from '../../../testing/part';
import { DealHead } from './deal-head';

const stage = (id: string) => ({ id, name: id });
const sales = { id: 'p', name: 'Sales', stages: [stage('Inquiry'), stage('Offer')] };
const abroad = { id: 'q', name: 'Abroad', stages: [stage('Asked')] };

const show = async (part: object, pipelines: object[] = [sales]) => {
  const shown = await showPart(DealHead, { inputs: { deal: aWholeDeal({ stageId: 'Offer', ...part }) } });
  await shown.answer('/api/pipelines', { pipelines });
  return shown.root.textContent.replace(/\s+/g, ' ');
};

test('names the stage and the owner, and the pipeline where there are several', async () => {
  expect(await show({ ownerName: 'Imogen Thorne' })).toMatch(/Offer · Imogen Thorne · closes/);
});

test('the pipeline is named where there are several', async () => {
  expect(await show({}, [sales, abroad])).toContain('Offer, Sales ·');
});

test('a close that should have been is marked', async () => {
  expect(await show({ expectedCloseOn: '2026-11-20' })).toContain('should have closed Fri 20 Nov');
});

test('a closed one says how and when, and its chance no longer', async () => {
  const said = await show({ status: 'won', closedOn: '2026-11-19' });
  expect(said).toContain('won on Thu 19 Nov');
  expect(said).not.toContain('%');
});

test('without a day to close on, the line ends with its owner', async () => {
  expect((await show({ ownerName: 'Imogen Thorne', expectedCloseOn: null })).trim()).toMatch(
    /Offer · Imogen Thorne$/,
  );
});
